import type { Box3 } from '../math/box3';

/** What one tile costs. */
export interface TileCost {
  triangles: number;
  /** Draw calls: surfaces and ink lines. */
  drawCalls: number;
  /** Bytes as sent, without pictures: many tiles show the same. */
  bytes: number;
  /** Bytes in the memory of a graphics card. */
  memory: number;
}

/** A published tile: what it shows, how wrong that is, and what shows it in more detail. */
export interface DetailTile {
  /** Revision's frame, metres, Z up. */
  box: Box3;
  /** Largest distance in metres from the full surface. */
  error: number;
  /** Null where nothing is drawn at this level. */
  cost: TileCost | null;
  /** Bytes of the pictures that it shows, by address. */
  pictures: ReadonlyMap<string, number>;
  children: DetailTile[];
}
