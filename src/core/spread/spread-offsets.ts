import { ROOM_CATEGORY } from '../elements/element-flags';
import { columnValue, type ElementIndex } from '../elements/element-index';
import { boxCentre, boxSize, isEmptyBox, type Box3 } from '../math/box3';
import type { Vec3 } from '../math/mat4';
import type { Spread } from '../view/spread';

/** What spreading has to know of one model. All lengths are metres, in project coordinates. */
export interface SpreadModel {
  index: ElementIndex;
  /** Box of an element; empty for one without a shape. */
  boxOf(row: number): Box3;
}

/** Where everything is pulled from, the same for all models. */
export interface SpreadFrame {
  /** Of everything that is shown. */
  extent: Box3;
  /** Middle of what everything moves away from when it goes outward. */
  centre: Vec3;
  /** Names of all storeys, lowest first. */
  storeys: string[];
  /** Names of all categories, in alphabetical order. */
  categories: string[];
}

/** At the full amount storeys are lifted by this many of their distances, or the whole's size goes outward again. */
const STOREY_GAPS = 1.5;
const OUTWARD = 1;
/** The gap between two categories as a share of what they measure. */
const CATEGORY_GAP = 0.15;

/**
 * By how much each element is moved, three lengths an element in metres, along the axes of the project. Without an amount
 * all are zero; offsets grow in proportion to the amount, so that a slider moves everything along straight lines.
 */
export function spreadOffsets(spread: Spread, { index, boxOf }: SpreadModel, frame: SpreadFrame): Float32Array {
  const offsets = new Float32Array(index.count * 3);
  const size = boxSize(frame.extent);
  const set = (row: number, offset: Vec3) =>
    offset.forEach((value, axis) => (offsets[row * 3 + axis] = value * spread.amount));
  if (spread.by === 'storey') {
    const lift = Math.max(size[2] / Math.max(frame.storeys.length, 1), 3) * STOREY_GAPS;
    for (let row = 0; row < index.count; row++) {
      const storey = index.storeys[index.storey[row]!]?.name;
      if (storey !== undefined) set(row, [0, 0, frame.storeys.indexOf(storey) * lift]);
    }
  } else if (spread.by === 'category') {
    // On a square grid, so that nothing goes far away.
    const across = Math.ceil(Math.sqrt(frame.categories.length));
    const down = Math.ceil(frame.categories.length / across);
    const step = [size[0] * (1 + CATEGORY_GAP), size[1] * (1 + CATEGORY_GAP)] as const;
    for (let row = 0; row < index.count; row++) {
      const at = frame.categories.indexOf(columnValue(index.category, row));
      if (at < 0) continue;
      const column = (at % across) - (across - 1) / 2;
      const line = (down - 1) / 2 - Math.floor(at / across);
      set(row, [column * step[0], line * step[1], 0]);
    }
  } else {
    for (let row = 0; row < index.count; row++) {
      const box = boxOf(row);
      if (isEmptyBox(box)) continue;
      set(row, boxCentre(box).map((value, axis) => (value - frame.centre[axis]!) * OUTWARD) as Vec3);
    }
  }
  return offsets;
}

/** Storeys and categories of several models together; rooms, which are no things, are not among them. */
export function spreadGroups(models: readonly ElementIndex[]): Pick<SpreadFrame, 'storeys' | 'categories'> {
  const elevations = new Map<string, number>();
  const categories = new Set<string>();
  for (const { storeys, category } of models) {
    for (const { name, elevation } of storeys)
      elevations.set(name, Math.min(elevation, elevations.get(name) ?? Infinity));
    for (const value of category.values) if (value !== ROOM_CATEGORY) categories.add(value);
  }
  return {
    storeys: [...elevations].sort((a, b) => a[1] - b[1]).map(([name]) => name),
    categories: [...categories].sort((a, b) => a.localeCompare(b, 'en')),
  };
}
