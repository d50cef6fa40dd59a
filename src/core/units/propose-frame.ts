import { boxSize, type Box3 } from '../math/box3';
import { LENGTH_UNITS, type LengthUnit, type ModelFrame, type UpAxis } from './length-unit';

/** What is known of a mesh whose file names neither unit nor up axis. */
export interface RawShape {
  /** In the file's numbers. */
  extent: Box3;
  /** Area of the faces that look along each axis, either way, in the file's units squared. */
  facing: [x: number, y: number, z: number];
}

export interface ProposedFrame extends ModelFrame {
  /** A sentence for the person who has to agree. */
  reason: string;
}

/** Largest sizes that a building or a thing in it has, in metres, by the unit that would be the cause. Tried in order. */
const PLAUSIBLE: [unit: LengthUnit, from: number, to: number][] = [
  ['m', 0.3, 300],
  ['mm', 0.3, 300],
  ['cm', 0.3, 300],
  ['mm', 0.02, 3000],
  ['m', 0.01, 5000],
];

/** How much more area must look along one axis before that decides. */
const CLEARLY = 1.15;

/**
 * Proposes unit and up axis from size and shape: buildings and furniture are between a foot and three hundred metres,
 * and floors, tops and roofs make the level faces outweigh the others.
 *
 * @param usualUp what the file's format mostly means, where the shape does not tell
 */
export function proposeFrame({ extent, facing }: RawShape, usualUp: UpAxis): ProposedFrame {
  const largest = Math.max(...boxSize(extent));
  const fitting = PLAUSIBLE.find(
    ([unit, from, to]) => largest * LENGTH_UNITS[unit].metres >= from && largest * LENGTH_UNITS[unit].metres <= to,
  );
  const unit = fitting?.[0] ?? 'm';
  const { metres, name } = LENGTH_UNITS[unit];
  const [, y, z] = facing;
  const up: UpAxis = y > z * CLEARLY ? 'Y' : z > y * CLEARLY ? 'Z' : usualUp;
  const size = `The file’s numbers span ${plainNumber(largest)}; read as ${name}, the model is ${plainNumber(largest * metres)} m long.`;
  const shape =
    Math.max(y, z) > Math.min(y, z) * CLEARLY
      ? `Most of its level faces look along ${up}, so ${up} is taken as up.`
      : `Its shape does not tell which way is up; ${up} is usual in this format.`;
  return { metresPerUnit: metres, up, reason: `${size} ${shape}` };
}

function plainNumber(value: number): string {
  return String(Number(value.toPrecision(3)));
}
