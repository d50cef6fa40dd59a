import { middleSide, type Box3 } from '@/core/math/box3';
import { invertRigid, multiply, type Mat4 } from '@/core/math/mat4';
import { movePositions } from '../geometry/element-geometry';
import { SAME_PLACE, type Share } from '../geometry/shares';
import { turnNormals } from '../geometry/smooth';
import { boxBody } from './body';
import { simplify } from './simplify';
import type { DetailPart } from './split-pieces';

/** Triangles that are made coarser at once: enough that asking another thread for it costs little. */
const BATCH = 2000;

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

  /** @param bodiesOf makes parts coarser, here or elsewhere */
  constructor(private readonly bodiesOf: typeof bodies = bodies) {}

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
    const known = this.knownAt(allowed);
    // A shape once, not a promise a part.
    const firsts = new Map<number, Shared>();
    for (const part of thick) if (isShared(part) && !firsts.has(part.share.shape)) firsts.set(part.share.shape, part);
    const shared = [...firsts.values()];
    const fresh = shared.filter(({ share }) => !known.has(share.shape));
    const workedOut = this.workOut([...fresh, ...thick.filter((part) => !isShared(part))], allowed);
    for (const part of fresh) known.set(part.share.shape, this.coarse(part, workedOut.get(part)!));
    const shapes = new Map(shared.map(({ share }) => [share.shape, known.get(share.shape)!]));
    const [coarse, made] = await Promise.all([settled(shapes), settled(workedOut)]);
    const kept = thick.map((part) => (isShared(part) ? likeIt(part, coarse.get(part.share.shape)!) : made.get(part)!));
    for (const part of kept) error = Math.max(error, part.error);
    return { parts: kept, error };
  }

  private knownAt(allowed: number): Map<number, Promise<Coarse>> {
    let known = this.known.get(allowed);
    if (!known) this.known.set(allowed, (known = new Map()));
    return known;
  }

  /** What becomes of parts: all at once, so that those that are made elsewhere hold up no others. */
  private workOut(parts: DetailPart[], allowed: number): Map<DetailPart, Promise<DetailPart>> {
    const made = new Map<DetailPart, Promise<DetailPart>>();
    for (const batch of batches(parts)) {
      const all = this.bodiesOf(batch, allowed);
      batch.forEach((part, i) =>
        made.set(
          part,
          all.then((list) => list[i]!),
        ),
      );
    }
    return made;
  }

  private async coarse(part: Shared, made: Promise<DetailPart>): Promise<Coarse> {
    const { motion } = part.share;
    const less = await made;
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

/** Parts that are worth handing over together. */
function* batches(parts: DetailPart[]): Generator<DetailPart[]> {
  let batch: DetailPart[] = [];
  let triangles = 0;
  for (const part of parts) {
    batch.push(part);
    triangles += part.indices.length / 3;
    if (triangles < BATCH) continue;
    yield batch;
    batch = [];
    triangles = 0;
  }
  if (batch.length > 0) yield batch;
}

/** Parts made coarser, one by one. */
export async function bodies(parts: DetailPart[], allowed: number): Promise<DetailPart[]> {
  const made: DetailPart[] = [];
  for (const part of parts) made.push(await body(part, allowed));
  return made;
}

/** A part made coarser: simplified, or a plain box where it is nearly one. It is the part itself if it cannot be. */
async function body(part: DetailPart, allowed: number): Promise<DetailPart> {
  const less = await simplify(part, allowed);
  return (!part.isCut && boxBody(less, allowed)) || less;
}

/** A part after a rigid motion. */
export function moved(part: DetailPart, m: Mat4): DetailPart {
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
