import type { Threads } from '../threads/threads';
import type { PlacedGeometry } from '../geometry/element-geometry';
import { findShares } from '../geometry/shares';
import { smoothAll } from '../geometry/smooth';
import { Coarsener } from './coarsen';
import { buildLevels, type DetailNode } from './levels';
import { splitPieces, type TileLimits } from './split-pieces';
import { tileSize } from './tile-size';

/** Tiles of this many triangles weigh between 50 and 500 kB for ordinary buildings. */
const TILE = { triangles: 40_000, drawn: 240_000 };

/** A model in levels of detail. */
export interface Detail {
  /** The coarsest level, with all finer ones below it. */
  top: DetailNode;
  /** Triangles of every piece before it was cut, by its number. */
  wholes: number[];
  /** Knows what became of shapes already. */
  coarsener: Coarsener;
}

/** Says what is curved, splits pieces into parts that fit into tiles, and builds levels of detail above them. */
export async function buildDetail(
  geometry: PlacedGeometry,
  threads: Threads,
  onProgress: (share: number) => void,
): Promise<Detail> {
  const { pieces: filled, origins } = withTriangles(geometry);
  const shares = findShares(filled, origins);
  const pieces = smoothAll(filled, shares);
  onProgress(0.3);
  const wholes = pieces.map((piece) => piece.indices.length / 3);
  const limits: TileLimits = { ...TILE, size: tileSize(pieces.map(({ box }) => box)) };
  const tree = splitPieces(pieces, limits, shares);
  // Without what they share: it would take the places of all pieces along.
  const coarsener = new Coarsener((parts, allowed) =>
    threads.anywhere('coarsen', { parts: parts.map((part) => ({ ...part, share: null })), allowed }),
  );
  const top = await buildLevels(tree, wholes, limits, coarsener);
  onProgress(1);
  return { top, wholes, coarsener };
}

function withTriangles({ pieces, origins }: PlacedGeometry): Pick<PlacedGeometry, 'pieces' | 'origins'> {
  const filled = pieces.filter((piece) => piece.indices.length > 0);
  return { pieces: filled, origins: filled.length === pieces.length ? origins : null };
}
