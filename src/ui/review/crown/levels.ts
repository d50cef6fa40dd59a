import { placePoint } from '@/core/placement/placement';
import type { RevisionPlans, StoreyPlan } from '@/core/plan/plan';
import type { StageModelSource } from '@/core/project/models';

/** One model's share of a level: its plan, and how path data (centimetres) becomes project coordinates (metres). */
export interface LevelPart {
  modelId: string;
  plan: StoreyPlan;
  /** As in SVG: x' = a·x + c·y + e, y' = b·x + d·y + f. */
  matrix: [number, number, number, number, number, number];
}

/** A storey of the project, of whatever models. */
export interface Level {
  name: string;
  /** A letter or two for the ladder. */
  short: string;
  /** Heights in the project, metres. */
  floor: number;
  /** Where the next one begins; infinite of the highest. */
  top: number;
  parts: LevelPart[];
}

export type LevelModel = Pick<StageModelSource, 'modelId' | 'placement'> & { plans: RevisionPlans };

/** Floors of several models that differ by less are one storey, metres. */
const ONE_STOREY = 0.9;

/** The storeys of all models together, from the lowest. */
export function levelsOf(models: readonly LevelModel[]): Level[] {
  const parts = models.flatMap(({ modelId, placement, plans }) => {
    const origin = placePoint(placement, [...plans.corner, 0]);
    const x = placePoint(placement, [plans.corner[0] + 0.01, plans.corner[1], 0]);
    const y = placePoint(placement, [plans.corner[0], plans.corner[1] + 0.01, 0]);
    const matrix: LevelPart['matrix'] = [
      x[0] - origin[0],
      x[1] - origin[1],
      y[0] - origin[0],
      y[1] - origin[1],
      origin[0],
      origin[1],
    ];
    return plans.storeys.map((plan) => ({
      floor: placePoint(placement, [0, 0, plan.floor])[2],
      part: { modelId, plan, matrix },
    }));
  });
  const levels: Omit<Level, 'short' | 'top'>[] = [];
  for (const { floor, part } of parts.sort((a, b) => a.floor - b.floor)) {
    const last = levels[levels.length - 1];
    if (last && floor - last.floor < ONE_STOREY) {
      last.parts.push(part);
      last.name ||= part.plan.name;
    } else levels.push({ name: part.plan.name, floor, parts: [part] });
  }
  const shorts = levels.map(({ name, floor }) => shortName(name, floor));
  return levels.map((level, i) => ({
    ...level,
    name: level.name || `Level ${level.floor.toFixed(1)} m`,
    short: shorts.filter((one) => one === shorts[i]).length > 1 ? String(i) : shorts[i]!,
    top: levels[i + 1]?.floor ?? Infinity,
  }));
}

/** The level on which something at a height is; the lowest where it is below all. */
export function levelAt(levels: readonly Level[], height: number): number {
  return Math.max(
    0,
    levels.findLastIndex(({ floor }) => floor <= height),
  );
}

const NUMBERS = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth', 'ninth', 'tenth'];

/** What stands on a storey's rung: its number, or the letter that it begins with. */
function shortName(name: string, floor: number): string {
  if (!name) return floor.toFixed(1);
  const digits = /-?\d+(?!.*\d)/.exec(name)?.[0];
  if (digits) return digits;
  const word = NUMBERS.findIndex((number) => name.toLowerCase().includes(number));
  return word >= 0 ? String(word + 1) : [...name.trim()][0]!.toLocaleUpperCase();
}

/** West, south, east and north of all that the plans show, project coordinates; null of nothing. */
export function extentOf(levels: readonly Level[]): [number, number, number, number] | null {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { parts } of levels)
    for (const { plan, matrix } of parts)
      for (const data of [plan.ground, plan.walls])
        for (const [px, py] of corners(data)) {
          const x = matrix[0] * px + matrix[2] * py + matrix[4];
          const y = matrix[1] * px + matrix[3] * py + matrix[5];
          [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
        }
  return x1 >= x0 ? [x0, y0, x1, y1] : null;
}

/** Corners of the path data of plans. @see StoreyPlan */
function* corners(data: string): Generator<[number, number]> {
  for (const part of data.split('z')) {
    const numbers = (part.match(/-?\d+/g) ?? []).map(Number);
    let [x, y] = [0, 0];
    for (let at = 0; at + 1 < numbers.length; at += 2) {
      x += numbers[at]!;
      y += numbers[at + 1]!;
      yield [x, y];
    }
  }
}
