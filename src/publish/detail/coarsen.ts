import { boxSize, type Box3 } from '@/core/math/box3';
import { invertRigid, multiply, type Mat4 } from '@/core/math/mat4';
import { movePositions } from '../element-geometry';
import { SAME_PLACE } from '../shares';
import { turnNormals } from '../smooth';
import { boxBody } from './body';
import { simplify } from './simplify';
import type { DetailPart } from './split-pieces';

/** What became of a shape at some allowed error. */
interface Coarse {
  /** The part that was looked at. */
  source: DetailPart;
  /** The first part of the shape as it became, of a new shape; null where nothing became of it. */
  part: DetailPart | null;
  /** From where that one stands to where its shape lies. */
  back: Mat4;
}

/**
 * Makes parts coarser. Of parts that are of one shape, one is worked out and the others are moved copies, so that they
 * are of one shape still.
 */
export class Coarsener {
  private readonly known = new Map<string, Promise<Coarse>>();
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
    const lost = (part: DetailPart) => thickness(part.box) + part.error;
    // All at once, so that those that are made elsewhere hold up no others.
    const kept = await Promise.all(
      parts
        .filter((part) => lost(part) > allowed)
        .map((part) => (part.share && !part.isCut ? this.sharedBody(part, allowed) : this.bodyOf(part, allowed))),
    );
    const thin = parts.map(lost).filter((error) => error <= allowed);
    return {
      parts: kept,
      error: [inherited, ...thin, ...kept.map(({ error }) => error)].reduce((a, b) => Math.max(a, b)),
    };
  }

  private async sharedBody(part: DetailPart, allowed: number): Promise<DetailPart> {
    const { shape, motion } = part.share!;
    const key = `${shape}/${allowed}`;
    let coarse = this.known.get(key);
    if (!coarse) this.known.set(key, (coarse = this.coarse(part, allowed)));
    const known = await coarse;
    if (!known.part) return part;
    if (known.source === part) return known.part;
    return {
      ...moved(known.part, multiply(motion, known.back)),
      element: part.element,
      material: part.material,
      source: part.source,
      covers: part.covers,
      share: { shape: known.part.share!.shape, motion },
    };
  }

  private async coarse(part: DetailPart, allowed: number): Promise<Coarse> {
    const { motion } = part.share!;
    const less = await this.bodyOf(part, allowed);
    return {
      source: part,
      part:
        less.indices.length === part.indices.length ? null : { ...less, share: { shape: this.nextShape++, motion } },
      back: invertRigid(motion),
    };
  }
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
  return boxSize(box).sort((a, b) => b - a)[1]!;
}
