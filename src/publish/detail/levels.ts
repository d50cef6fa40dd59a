import { boxDiagonal, emptyBox, expandByBox, type Box3 } from '@/core/math/box3';
import type { Surface } from '../pictures/pictures';
import { Coarsener, thickness } from './coarsen';
import { seenFromOutside } from './seen-from-outside';
import { joinParts, joinVertices, simplify, simplifyRoughly } from './simplify';
import type { DetailPart, PartTree } from './split-pieces';

/** A level of detail of what lies in a box; its children show the same in more detail. */
export interface DetailNode {
  box: Box3;
  parts: DetailPart[];
  /** Largest distance in metres between what it shows and the full surface; 0 for the finest level. */
  error: number;
  children: DetailNode[];
}

export interface LevelLimits {
  /** Triangles of one tile at most. */
  triangles: number;
}

/** A node is meant for where it fills about this many pixels; it may be wrong by one of them. */
const PIXELS = 256;
/** A level that has not at least lost this share of its triangles is not worth its bytes. */
const WORTH_A_LEVEL = 0.5;
/** So few triangles need not become fewer: they weigh about as much as the tile around them. */
const FEW = 256;
/** A surface that is off by more than this part of the whole's size may as well be a rough one. */
const ROUGH = 16;
/** How often the error is doubled at most: beyond a sixteenth of its size, a node shows something else. */
const TRIES = 5;

/**
 * Builds levels of detail from the finest upwards: each joins the level below it, leaves out what is thinner than a
 * pixel where the level is meant for, puts plain boxes in the place of what is nearly one, and simplifies the rest. What
 * a part has lost is measured at every step and added up, so that a node's error holds against the full surface.
 *
 * @param wholes triangles of every piece before it was cut, by its number
 * @param coarsener knows what became of shapes already
 */
export async function buildLevels(
  tree: PartTree,
  wholes: ArrayLike<number>,
  limits: LevelLimits,
  coarsener = new Coarsener(),
): Promise<DetailNode> {
  if ('parts' in tree) {
    return { box: boxOf(tree.parts), parts: tree.parts, error: 0, children: [] };
  }
  // Two halvings make one level, so that every level has about a quarter of the next.
  const quarters = tree.halves.flatMap((half) => ('halves' in half ? half.halves : [half]));
  const children = await Promise.all(quarters.map((quarter) => buildLevels(quarter, wholes, limits, coarsener)));
  const box = emptyBox();
  for (const child of children) expandByBox(box, child.box);
  const below = children.flatMap((child) => child.parts);
  const inherited = Math.max(...children.map((child) => child.error));
  const joined = joinCut(below, wholes);
  const full = countTriangles(joined);
  let error = evenStep(Math.max(boxDiagonal(box) / PIXELS, inherited * 1.5));
  let level = { parts: joined, error: inherited };
  for (let attempt = 0; attempt < TRIES; attempt++, error *= 2) {
    level = await coarsener.coarsen(level.parts, error, Math.max(inherited, level.error));
    if (countTriangles(level.parts) <= Math.min(limits.triangles, Math.max(full * WORTH_A_LEVEL, FEW))) break;
  }
  return { box, ...level, children };
}

/**
 * The first thing that is sent: at most so many triangles of what is seen from around the whole. Its error is that of
 * the largest thing that it leaves out.
 */
export async function firstLook(
  { box, parts, error }: Omit<DetailNode, 'children'>,
  wholes: ArrayLike<number>,
  surfaces: Surface[],
  triangles: number,
  coarsener = new Coarsener(),
): Promise<Omit<DetailNode, 'children'>> {
  let allowed = evenStep(Math.max(boxDiagonal(box) / PIXELS, error));
  let level = await coarsener.coarsen(joinCut(parts, wholes), allowed, error);
  // Shapes are made somewhat coarser first; what then is still too much is left out, beginning with what is not seen.
  for (let attempt = 0; attempt < 3 && countTriangles(level.parts) > triangles; attempt++) {
    allowed *= 2;
    level = await coarsener.coarsen(level.parts, allowed, level.error);
  }
  if (countTriangles(level.parts) <= triangles) return { box, ...level };
  const seen = seenFromOutside(level.parts, surfaces, box);
  const order = level.parts.map((_, i) => i).sort((a, b) => seen[b]! - seen[a]!);
  const kept: DetailPart[] = [];
  let room = triangles;
  for (const i of order) {
    let part = level.parts[i]!;
    if (seen[i]! > 0 && part.indices.length / 3 > room) part = await squeeze(part, room, boxDiagonal(box));
    const count = part.indices.length / 3;
    const stays = seen[i]! > 0 && count <= room;
    if (stays) {
      kept.push(part);
      room -= count;
    }
    level.error = Math.max(level.error, part.error + (stays ? 0 : thickness(part.box)));
  }
  return { box, parts: kept, error: level.error };
}

/** One part with at most so many triangles, its shape roughly where it cannot be kept. @param size of the whole, in metres */
async function squeeze(part: DetailPart, triangles: number, size: number): Promise<DetailPart> {
  for (let allowed = Math.max(part.error * 2, size / PIXELS); allowed < size / ROUGH; allowed *= 2) {
    const less = await simplify(part, allowed);
    if (less.indices.length / 3 <= triangles) return { ...less, share: null };
  }
  return { ...(await simplifyRoughly(part, triangles)), share: null };
}

/** The next power of two: few different errors are asked for, so that equal shapes are worked out once. */
function evenStep(error: number): number {
  return 2 ** Math.ceil(Math.log2(error));
}

/** Parts that were cut from one piece become one again. */
function joinCut(parts: DetailPart[], wholes: ArrayLike<number>): DetailPart[] {
  if (!parts.some(({ isCut }) => isCut)) return parts;
  const bySource = new Map<number, DetailPart[]>();
  for (const part of parts) {
    const own = bySource.get(part.source);
    if (own) own.push(part);
    else bySource.set(part.source, [part]);
  }
  return [...bySource].map(([source, own]) => {
    if (own.length === 1) return own[0]!;
    const joined = joinVertices(joinParts(own));
    return { ...joined, isCut: joined.covers < wholes[source]! };
  });
}

export function countTriangles(parts: DetailPart[]): number {
  return parts.reduce((sum, part) => sum + part.indices.length / 3, 0);
}

function boxOf(parts: DetailPart[]): Box3 {
  const box = emptyBox();
  for (const part of parts) expandByBox(box, part.box);
  return box;
}
