import { REFERENCE } from '../step/step-values';

/**
 * Typed access to the loosely typed lines of the IFC reader library. A line is an object whose attributes are
 * `{ type, value }` wrappers, references (`type` 5), arrays of these, or null.
 */
export type IfcLine = { expressID: number; type: number } & Record<string, unknown>;

const NONE: readonly number[] = [];

interface Wrapped {
  type?: number;
  value?: unknown;
}

function isWrapped(value: unknown): value is Wrapped {
  return typeof value === 'object' && value !== null && 'value' in value;
}

/** A text attribute; empty where it is not given. */
export function text(line: IfcLine, name: string): string {
  const value = plain(line[name]);
  return value === null ? '' : String(value);
}

/** A number attribute, or null. */
export function numeric(line: IfcLine, name: string): number | null {
  const value = plain(line[name]);
  return typeof value === 'number' && Number.isFinite(value) ? value : null;
}

/** The express id that an attribute refers to, or null. */
export function reference(line: IfcLine, name: string): number | null {
  const value = line[name];
  return isWrapped(value) && value.type === REFERENCE && typeof value.value === 'number' ? value.value : null;
}

/** The express ids in a list attribute. */
export function references(line: IfcLine, name: string): readonly number[] {
  const value = line[name];
  if (value === undefined || value === null) return NONE;
  const ids: number[] = [];
  for (const item of Array.isArray(value) ? (value as unknown[]) : [value])
    if (isWrapped(item) && item.type === REFERENCE && typeof item.value === 'number') ids.push(item.value);
  return ids;
}

/** Numbers of a list attribute such as coordinates or an angle in degrees, minutes and seconds. */
export function numbers(line: IfcLine, name: string): number[] {
  const value = isWrapped(line[name]) ? line[name].value : line[name];
  if (!Array.isArray(value)) return [];
  return value.map(plain).filter((item): item is number => typeof item === 'number');
}

/** Unwraps a simple value: text, number, truth value, or null for what is none of these. IFC's unknown becomes null. */
export function plain(value: unknown): string | number | boolean | null {
  const inner = isWrapped(value) ? value.value : value;
  if (typeof inner === 'string') return inner;
  if (typeof inner === 'number') return Number.isFinite(inner) ? inner : null;
  if (typeof inner === 'boolean') return inner;
  return null;
}
