import { ELEMENT_COLUMNS } from './element-columns';
import type { ElementRef } from './element-ref';
import {
  ALL_ELEMENTS,
  compactSet,
  whereElements,
  type Clause,
  type Condition,
  type ElementSet,
  type Where,
} from './element-set';

/**
 * A set as it may have been stored: what is not understood is left out, so that a rule of a later version says less instead
 * of failing.
 *
 * @param missing what a value stands for that is no set at all
 */
export function readElementSet(stored: unknown, missing: ElementSet = ALL_ELEMENTS): ElementSet {
  if (!Array.isArray(stored)) return missing;
  return compactSet(stored.flatMap((clause): Clause[] => readClause(clause)));
}

function readClause(stored: unknown): Clause[] {
  const { also, except } = asRecord(stored);
  if (Array.isArray(also)) return readWhere(also).map((where) => ({ also: where }));
  if (Array.isArray(except)) return readWhere(except).map((where) => ({ except: where }));
  return [];
}

/** Parts of a set, each a list of conditions; single elements of the older form too. */
export function readWheres(stored: unknown): Where[] {
  if (!Array.isArray(stored)) return [];
  const refs = readRefs(stored);
  return [...whereElements(refs), ...stored.filter(Array.isArray).flatMap((where) => readWhere(where as unknown[]))];
}

/** No condition may be dropped alone: fewer conditions would mean more elements. */
function readWhere(stored: unknown[]): Where[] {
  const conditions = stored.map(readCondition);
  return conditions.includes(null) ? [] : [conditions as Condition[]];
}

function readCondition(stored: unknown): Condition | null {
  const { is, value, set, name, from, to, guids } = asRecord(stored);
  if (is === 'element')
    return Array.isArray(guids) && guids.every((guid) => typeof guid === 'string') ? { is, guids } : null;
  if (is === 'fact') {
    if (typeof set !== 'string' || typeof name !== 'string') return null;
    if (typeof value === 'string') return { is, set, name, value };
    const bounds = { ...(typeof from === 'number' && { from }), ...(typeof to === 'number' && { to }) };
    return 'from' in bounds || 'to' in bounds ? { is, set, name, ...bounds } : null;
  }
  const named = is === 'model' || is === 'search' ? is : ELEMENT_COLUMNS.find((column) => column === is);
  return named && typeof value === 'string' ? { is: named, value } : null;
}

/** Single elements as they were listed one by one. */
export function readRefs(stored: unknown): ElementRef[] {
  if (!Array.isArray(stored)) return [];
  return stored.flatMap((entry): ElementRef[] => {
    const { model, guid } = asRecord(entry);
    return typeof model === 'string' && typeof guid === 'string' ? [{ model, guid }] : [];
  });
}

export function asRecord(value: unknown): Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Record<string, unknown>) : {};
}
