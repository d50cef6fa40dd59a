import type { PlacedGeometry } from '../geometry/element-geometry';
import { packPieces, unpackPieces, type PackedPieces } from './packed-pieces';
import type { TileContent } from '../geometry/repeats';

/** What a task is given, as it goes to another thread: its pieces in columns. */
export interface Transfer {
  geometry?: Omit<PlacedGeometry, 'pieces' | 'origins'>;
  content?: Pick<TileContent, 'repeats'>;
  /** Those of the geometry, or those of the content that stand alone. */
  pieces?: PackedPieces;
  others: object;
}

/** @param given to one of the tasks that any core can do */
export function handOver(given: object): Transfer {
  const { geometry, content, ...others } = given as { geometry?: PlacedGeometry; content?: TileContent };
  if (geometry) {
    const { pieces, offset, extent, elementBoxes } = geometry;
    return { geometry: { offset, extent, elementBoxes }, pieces: packPieces(pieces), others };
  }
  return content ? { content: { repeats: content.repeats }, pieces: packPieces(content.single), others } : { others };
}

/** What was given, in the other thread; without what it does not need, such as where pieces come from. */
export function takeOver({ geometry, content, pieces, others }: Transfer): object {
  const unpacked = pieces ? unpackPieces(pieces) : [];
  if (geometry)
    return { ...others, geometry: { ...geometry, pieces: unpacked, origins: null } satisfies PlacedGeometry };
  return content ? { ...others, content: { ...content, single: unpacked } satisfies TileContent } : others;
}
