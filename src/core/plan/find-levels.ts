/** A triangle-wise sum of level surfaces that face up, by height. */
export interface LevelArea {
  /** Metres. */
  height: number;
  /** Square metres. */
  area: number;
}

/** Metres within which surfaces are one floor: screeds, thresholds and carpets lie on one. */
const ONE_FLOOR = 0.25;
/** The least height from floor to floor, metres. */
const LEAST_STOREY = 2.1;
/** A level is a floor from this share of the largest one's area. */
const LEAST_SHARE = 0.12;
const MOST_LEVELS = 60;

/**
 * The floors of a building by where much of it is level and faces up; lowest first. What lies so close above a floor that
 * nobody could stand between, such as tables, is none.
 */
export function findLevels(areas: readonly LevelArea[]): number[] {
  const sorted = [...areas].sort((a, b) => a.height - b.height);
  const groups: { height: number; area: number; top: number }[] = [];
  for (const { height, area } of sorted) {
    const last = groups[groups.length - 1];
    if (last && height - last.top <= ONE_FLOOR) {
      last.height = (last.height * last.area + height * area) / Math.max(last.area + area, 1e-9);
      last.area += area;
      last.top = height - last.height > ONE_FLOOR ? last.top : height;
    } else groups.push({ height, area, top: height });
  }
  const largest = groups.reduce((most, { area }) => Math.max(most, area), 0);
  const levels: number[] = [];
  // The larger of two that are too close is the floor.
  for (const { height, area } of [...groups].sort((a, b) => b.area - a.area)) {
    if (area < largest * LEAST_SHARE || levels.length >= MOST_LEVELS) break;
    if (levels.every((level) => Math.abs(level - height) >= LEAST_STOREY)) levels.push(height);
  }
  return levels.sort((a, b) => a - b);
}
