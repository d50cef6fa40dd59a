import { FINDINGS, type FindingKind, type Mended } from '@/core/examination/finding';
import type { BuildingModel } from '@/formats/building-model';
import { flipped, placeGeometry, type PlacedGeometry } from '../element-geometry';
import { keepElements } from '../keep-elements';
import type { Examination } from './examine';
import { shellOf } from './shells';

export interface MendedModel {
  model: BuildingModel;
  geometry: PlacedGeometry;
  mended: Mended[];
}

/**
 * Does to a model what somebody has agreed to: leaves elements out, turns faces. The file and the model that were given
 * are not changed.
 */
export function mend(
  model: BuildingModel,
  geometry: PlacedGeometry,
  { rows }: Examination,
  agreed: readonly FindingKind[],
): MendedModel {
  const mended: Mended[] = [];
  const leaveOut = new Set<number>();
  const turn = new Set<number>();
  for (const kind of new Set(agreed)) {
    const found = rows.get(kind) ?? [];
    if (found.length === 0 || FINDINGS[kind].mend === null) continue;
    for (const row of found) (FINDINGS[kind].mend === 'turn' ? turn : leaveOut).add(row);
    mended.push({ kind, count: found.length });
  }
  let result = { model, geometry };
  if (turn.size > 0) {
    const pieces = geometry.pieces.map((piece) =>
      turn.has(piece.element) && shellOf(piece).volume < 0 ? { ...piece, indices: flipped(piece.indices) } : piece,
    );
    result = { model, geometry: { ...geometry, pieces } };
  }
  if (leaveOut.size > 0) result = without(result.model, result.geometry, leaveOut);
  return { ...result, mended };
}

/** The rest keeps what was turned; the middle of the whole may move, so everything is placed anew. */
function without(model: BuildingModel, geometry: PlacedGeometry, rows: Set<number>) {
  const kept = keepElements(
    model,
    model.elements.guid.map((_, row) => !rows.has(row)),
  );
  const placed = placeGeometry(kept);
  const remaining = geometry.pieces.filter((piece) => !rows.has(piece.element));
  const pieces = placed.pieces.map((piece, i) => ({ ...piece, indices: remaining[i]!.indices }));
  return { model: kept, geometry: { ...placed, pieces } };
}
