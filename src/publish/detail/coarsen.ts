import { middleSide, type Box3 } from '@/core/math/box3';
import { invertRigid, multiply, type Mat4 } from '@/core/math/mat4';
import { movePositions } from '../element-geometry';
import { SAME_PLACE, type Share } from '../shares';
import { turnNormals } from '../smooth';
import { boxBody } from './body';
import { simplify } from './simplify';
import type { DetailPart } from './split-pieces';

/** What became of a shape at some allowed error. */
interface Coarse {
  /** The part that was looked at. */
  source: DetailPart;
  /** The first part of the shape as it became, of a new shape; null where nothing became of it. */
  part: Shared | null;
  /** From where that one stands to where its shape lies. */
  back: Mat4;
}

/**
 * Makes parts coarser. Of parts that are of one shape, one is worked out and the others are moved copies, so that they
 * are of one shape still.
 */
export class Coarsener {
  /** By allowed error, then by shape. */
  private readonly known = new Map<number, Map<number, Promise<Coarse>>>();
  private nextShape = 2 ** 30; // above all that were found in the model

  /** @param bodyOf makes a part coarser, here or elsewhere */
  constructor(private readonly bodyOf: typeof body = body) {}

  /**
   * Leaves out what is thinner than the allowed error, puts plain boxes in the place of what is nearly one, and simplifies
   * the rest.
   *
   * @param allowed metres, counted from the full surface
   * @param inherited error of the parts so far
   * @returns the parts, and how far they are off at most
   */
  async coarsen(
    parts: DetailPart[],
    allowed: number,
    inherited: number,
  ): Promise<{ parts: DetailPart[]; error: number }> {
    let error = inherited;
    const thick = parts.filter((part) => {
      const lost = thickness(part.box) + part.error;
      if (lost <= allowed) error = Math.max(error, lost);
      return lost > allowed;
    });
    // All at once, so that those that are made elsewhere hold up no others; and a shape once, not a promise a part.
    const shapes = new Map<number, Promise<Coarse>>();
    const bodies = new Map<DetailPart, Promise<DetailPart>>();
    for (const part of thick)
      if (!isShared(part)) bodies.set(part, this.bodyOf(part, allowed));
      else if (!shapes.has(part.share.shape)) shapes.set(part.share.shape, this.shape(part, allowed));
    const [coarse, made] = await Promise.all([settled(shapes), settled(bodies)]);
    const kept = thick.map((part) => (isShared(part) ? likeIt(part, coarse.get(part.share.shape)!) : made.get(part)!));
    for (const part of kept) error = Math.max(error, part.error);
    return { parts: kept, error };
  }

  private shape(part: Shared, allowed: number): Promise<Coarse> {
    const { shape } = part.share;
    let known = this.known.get(allowed);
    if (!known) this.known.set(allowed, (known = new Map()));
    let coarse = known.get(shape);
    if (!coarse) known.set(shape, (coarse = this.coarse(part, allowed)));
    return coarse;
  }

  private async coarse(part: Shared, allowed: number): Promise<Coarse> {
    const { motion } = part.share;
    const less = await this.bodyOf(part, allowed);
    return {
      source: part,
      part:
        less.indices.length === part.indices.length ? null : { ...less, share: { shape: this.nextShape++, motion } },
      back: invertRigid(motion),
    };
  }
}

/** A whole piece that has its shape in common with others. */
type Shared = DetailPart & { share: Share };

function isShared(part: DetailPart): part is Shared {
  return part.share !== null && !part.isCut;
}

/** What a part becomes where this became of its shape. */
function likeIt(part: Shared, { source, part: coarse, back }: Coarse): DetailPart {
  if (!coarse) return part;
  if (source === part) return coarse;
  return {
    ...moved(coarse, multiply(part.share.motion, back)),
    element: part.element,
    material: part.material,
    source: part.source,
    covers: part.covers,
    share: { shape: coarse.share.shape, motion: part.share.motion },
  };
}

async function settled<Key, Value>(promises: Map<Key, Promise<Value>>): Promise<Map<Key, Value>> {
  const values = await Promise.all(promises.values());
  return new Map([...promises.keys()].map((key, i) => [key, values[i]!]));
}

/** A part made coarser: simplified, or a plain box where it is nearly one. It is the part itself if it cannot be. */
export async function body(part: DetailPart, allowed: number): Promise<DetailPart> {
  const less = await simplify(part, allowed);
  return (!part.isCut && boxBody(less, allowed)) || less;
}

/** A part after a rigid motion. */
function moved(part: DetailPart, m: Mat4): DetailPart {
  const positions = new Float64Array(part.positions.length);
  const box = movePositions(part.positions, m, positions);
  return {
    ...part,
    positions,
    normals: part.normals && turnNormals(part.normals, m),
    box,
    // Shapes agree to so much, not to the last bit.
    error: part.error + SAME_PLACE,
  };
}

/** What an element that is left out may be seen as, at most: a line as thick as its second side. */
export function thickness(box: Box3): number {
  return middleSide(box);
}
