import { FINDINGS, type FindingKind, type Mended } from '@/core/examination/finding';
import type { BuildingModel } from '@/formats/building-model';
import type { Vec3 } from '@/core/math/mat4';
import { emptyBox, expandByPoint, translateBox } from '@/core/math/box3';
import { collect, flipped, placeGeometry, type Piece, type PlacedGeometry } from '../element-geometry';
import { keepElements } from '../keep-elements';
import type { CoveredPlane } from './coincident';
import type { Examination } from './examine';
import { shellOf } from './shells';

export interface MendedModel {
  model: BuildingModel;
  geometry: PlacedGeometry;
  mended: Mended[];
}

/**
 * Does to a model what somebody has agreed to: leaves elements out, turns faces, lifts them out of others. The file and the model that were given
 * are not changed.
 */
export function mend(
  model: BuildingModel,
  geometry: PlacedGeometry,
  { rows, covered }: Examination,
  agreed: readonly FindingKind[],
): MendedModel {
  const mended: Mended[] = [];
  const leaveOut = new Set<number>();
  const turn = new Set<number>();
  const lift = new Set<number>();
  const actOn = { 'leave-out': leaveOut, turn, lift };
  for (const kind of new Set(agreed)) {
    const found = rows.get(kind) ?? [];
    const act = FINDINGS[kind].mend;
    if (found.length === 0 || act === null) continue;
    for (const row of found) actOn[act].add(row);
    mended.push({ kind, count: found.length });
  }
  let pieces = geometry.pieces;
  if (turn.size > 0)
    pieces = pieces.map((piece) =>
      turn.has(piece.element) && shellOf(piece).volume < 0 ? { ...piece, indices: flipped(piece.indices) } : piece,
    );
  if (lift.size > 0)
    pieces = pieces.map((piece) => (lift.has(piece.element) ? lifted(piece, covered.get(piece.element)!) : piece));
  if (leaveOut.size > 0) return { ...without(model, pieces, geometry.offset, leaveOut), mended };
  const changed = pieces !== geometry.pieces;
  return { model, geometry: changed ? collect(pieces, geometry.offset, model.elements.guid.length) : geometry, mended };
}

/** So far a face is lifted out of the one in which it lies, in metres: more than rounding and the depth of a picture. */
const LIFT = 0.004;

/** The same piece with what lies in the planes moved along their normals; the sides follow, so that it stays closed. */
function lifted(piece: Piece, planes: CoveredPlane[]): Piece {
  const positions = piece.positions.slice();
  for (const { normal, distance, depth } of planes) {
    for (let i = 0; i < positions.length; i += 3) {
      const at = normal.reduce((sum, part, axis) => sum + part * piece.positions[i + axis]!, 0);
      if (Math.abs(at - distance) > LIFT / 4) continue;
      for (let axis = 0; axis < 3; axis++) positions[i + axis]! += normal[axis]! * LIFT * depth;
    }
  }
  const box = emptyBox();
  for (let i = 0; i < positions.length; i += 3) expandByPoint(box, positions[i]!, positions[i + 1]!, positions[i + 2]!);
  return { ...piece, positions, box };
}

/** The rest keeps what was done to it; the middle of the whole may move, and with it the offset. */
function without(model: BuildingModel, pieces: Piece[], offset: Vec3, rows: Set<number>) {
  const kept = keepElements(
    model,
    model.elements.guid.map((_, row) => !rows.has(row)),
  );
  const placed = placeGeometry(kept);
  const remaining = pieces.filter((piece) => !rows.has(piece.element));
  const moved = placed.pieces.map(({ element }, i) => moveTo({ ...remaining[i]!, element }, offset, placed.offset));
  return { model: kept, geometry: collect(moved, placed.offset, kept.elements.guid.length) };
}

/** A piece relative to another offset. */
function moveTo(piece: Piece, from: Vec3, to: Vec3): Piece {
  const by = from.map((part, axis) => part - to[axis]!) as Vec3;
  if (by.every((part) => part === 0)) return piece;
  const positions = piece.positions.map((value, i) => value + by[i % 3]!);
  return { ...piece, positions, box: translateBox(piece.box, by) };
}
