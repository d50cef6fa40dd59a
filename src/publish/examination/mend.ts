import { FINDINGS, LIFT, type FindingKind, type Mended } from '@/core/examination/finding';
import type { BuildingModel } from '@/formats/building-model';
import type { Vec3 } from '@/core/math/mat4';
import { emptyBox, expandByPoint, translateBox } from '@/core/math/box3';
import { collect, flipped, placeGeometry, type Piece, type PlacedGeometry } from '../geometry/element-geometry';
import { keepElements } from '../reveal/keep-elements';
import type { CoveredPlane } from './coincident';
import type { Examination } from './examine';
import { isUnseen } from './records';
import { reduce } from './reduce';
import { shellOf } from './shells';

export interface MendedModel {
  model: BuildingModel;
  geometry: PlacedGeometry;
  mended: Mended[];
}

/**
 * Does to a model what somebody has agreed to: leaves elements out, turns faces, lifts them out of others, makes what
 * nobody could see solid, and what is finer than one can see simpler. The file and the model that were given are not changed.
 */
export async function mend(
  model: BuildingModel,
  geometry: PlacedGeometry,
  { rows, covered }: Examination,
  agreed: readonly FindingKind[],
): Promise<MendedModel> {
  const mended: Mended[] = [];
  const leaveOut = new Set<number>();
  const turn = new Set<number>();
  const lift = new Set<number>();
  const solid = new Set<number>();
  const simpler = new Set<number>();
  const actOn = { 'leave-out': leaveOut, turn, lift, solid, reduce: simpler };
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
  if (solid.size > 0) ({ model, pieces } = filled(model, pieces, solid));
  if (simpler.size > 0) {
    const { pieces: reduced, ...told } = await simplified(pieces, simpler);
    pieces = reduced;
    for (const done of mended) if (FINDINGS[done.kind].mend === 'reduce') done.reduced = told;
  }
  if (leaveOut.size > 0) return { ...without(model, pieces, geometry.offset, leaveOut), mended };
  const changed = pieces !== geometry.pieces;
  return { model, geometry: changed ? collect(pieces, geometry.offset, model.elements.guid.length) : geometry, mended };
}

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

/** The same pieces, those of some elements simpler. */
async function simplified(pieces: Piece[], rows: Set<number>) {
  const isFine = ({ element, indices }: Piece) => rows.has(element) && indices.length > 0;
  const { pieces: reduced, before, after, error } = await reduce(pieces.filter(isFine));
  let next = 0;
  return { pieces: pieces.map((piece) => (isFine(piece) ? reduced[next++]! : piece)), before, after, error };
}

/** What could not be seen in solid materials; the clear ones stay for others. */
function filled(model: BuildingModel, pieces: Piece[], rows: Set<number>) {
  const materials = [...model.materials];
  const solids = new Map<number, number>();
  const solidOf = (clear: number): number => {
    let solid = solids.get(clear);
    if (solid === undefined) {
      const { color, ...rest } = materials[clear]!;
      solid = materials.push({ ...rest, color: [color[0], color[1], color[2], 1] }) - 1;
      solids.set(clear, solid);
    }
    return solid;
  };
  const fill = (piece: Piece): Piece => ({
    ...piece,
    material: solidOf(piece.material),
    colors: piece.colors && piece.colors.map((part, i) => (i % 4 === 3 ? 255 : part)),
  });
  return {
    model: { ...model, materials },
    pieces: pieces.map((piece) => (rows.has(piece.element) && isUnseen(piece, model) ? fill(piece) : piece)),
  };
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
