import type { Box3 } from '@/core/math/box3';
import type { BuildingModel } from '@/formats/building-model';
import type { Piece, PlacedGeometry } from '../geometry/element-geometry';

/** A model as the checks look at it: rows with what is placed for them. */
export interface Examined {
  model: BuildingModel;
  /** Pieces by row; empty for an element without geometry. */
  pieces: Piece[][];
  /** Box by row, in the revision's frame; null for an element without geometry. */
  boxes: (Box3 | null)[];
}

/** What a check found: the rows, and a sentence. */
export interface Check {
  rows: number[];
  detail: string;
}

export function examined(model: BuildingModel, { pieces, elementBoxes }: PlacedGeometry): Examined {
  const byRow: Piece[][] = model.elements.guid.map(() => []);
  for (const piece of pieces) byRow[piece.element]!.push(piece);
  const boxes = byRow.map((own, row) =>
    own.length === 0 ? null : ([...elementBoxes.subarray(row * 6, row * 6 + 6)] as Box3),
  );
  return { model, pieces: byRow, boxes };
}
