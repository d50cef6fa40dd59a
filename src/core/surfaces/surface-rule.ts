import type { Condition, Where } from '../elements/element-set';
import { asRecord, readWheres } from '../elements/read-element-set';

/**
 * Gives surfaces another colour, another material, or both, while publishing. The file is not changed; the next revision of
 * the model is treated alike. Of several rules that fit a surface, the last one counts.
 */
export interface SurfaceRule {
  /** Whose surfaces: of elements, or those whose file names the one material that is asked for. */
  of: Where;
  /** How a person calls what it is about: an element's name. */
  label: string;
  /** `#rrggbb`; null leaves the file's colour and picture. */
  color: string | null;
  /** 0 is clear, 1 is solid; of no meaning where the colour is left. */
  opacity: number;
  /** What the contents will call the material; null leaves the file's name. */
  material: string | null;
}

/** What a rule did to a revision. */
export interface SurfaceChange {
  rule: SurfaceRule;
  /** Elements that it fits. 0 where nothing fits any more. */
  elements: number;
}

export const MOST_SURFACE_RULES = 200;

/** The material that a rule asks for and nothing else: then it finds single surfaces of an element too. Null for none. */
export function materialAsked({ of }: SurfaceRule): string | null {
  const [condition] = of;
  return of.length === 1 && condition?.is === 'material' ? condition.value : null;
}

/** Rules as they may have been stored: once, each had one subject by name. */
export function readSurfaceRules(stored: unknown): SurfaceRule[] {
  if (!Array.isArray(stored)) return [];
  return stored.flatMap((entry): SurfaceRule[] => {
    const { of, by, value, fact, label, color, opacity, material } = asRecord(entry);
    const [where] = readWheres([of ?? [subject(by, value, fact)]]);
    if (!where || where.length === 0) return [];
    return [
      {
        of: where,
        label: String(label),
        color: typeof color === 'string' ? color : null,
        opacity: typeof opacity === 'number' ? opacity : 1,
        material: typeof material === 'string' ? material : null,
      },
    ];
  });
}

function subject(by: unknown, value: unknown, fact: unknown): Record<string, unknown> | Condition {
  if (by === 'element') return { is: 'element', guids: [value] };
  if (by === 'fact') return { is: 'fact', ...asRecord(fact), value };
  return { is: by, value };
}

/** `#rrggbb` as sRGB parts, each 0..1. */
export function colorParts(color: string): [number, number, number] {
  const number = parseInt(color.slice(1), 16);
  return [(number >> 16) / 255, ((number >> 8) & 255) / 255, (number & 255) / 255];
}
