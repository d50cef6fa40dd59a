/** By what a rule finds the surfaces that it changes. */
export const SURFACE_SUBJECTS = ['category', 'material', 'fact', 'element'] as const;
export type SurfaceSubject = (typeof SURFACE_SUBJECTS)[number];

/**
 * Gives surfaces another colour, another material, or both, while publishing. The file is not changed; the next revision of
 * the model is treated alike. Of several rules that fit a surface, the last one counts.
 */
export interface SurfaceRule {
  by: SurfaceSubject;
  /** The category, the material, the fact's value as a text, or the element's guid. */
  value: string;
  /** For a fact: in which set it stands, and its name. */
  fact?: { set: string; name: string };
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

/** What a rule looks at. */
export interface SurfaceSubjectOf {
  guid: string;
  category: string;
  /** The element's material as the contents name it. */
  material: string;
  /** A fact's value; undefined where the element has none. */
  fact(set: string, name: string): unknown;
}

/** Whether a rule is about an element as a whole. */
export function fitsElement({ by, value, fact }: SurfaceRule, element: SurfaceSubjectOf): boolean {
  switch (by) {
    case 'category':
      return element.category === value;
    case 'material':
      return element.material === value;
    case 'element':
      return element.guid === value;
    case 'fact': {
      const found = element.fact(fact!.set, fact!.name);
      return found !== undefined && found !== null && factText(found) === value;
    }
  }
}

/** A fact's value as a text, the same in the page and while publishing. */
export function factText(value: unknown): string {
  return typeof value === 'number' ? String(Number(value.toPrecision(12))) : String(value);
}

/** `#rrggbb` as sRGB parts, each 0..1. */
export function colorParts(color: string): [number, number, number] {
  const number = parseInt(color.slice(1), 16);
  return [(number >> 16) / 255, ((number >> 8) & 255) / 255, (number & 255) / 255];
}
