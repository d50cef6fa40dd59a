import { MeshoptEncoder } from 'meshoptimizer';
import { uniqueRows } from '@/core/mesh/unique-rows';

/** Vertices whose bytes share a header. */
const GROUP = 16;
/** Most vertices and bytes of a block. */
const BLOCK = { vertices: 256, bytes: 8192 };
/** First byte of a stream of vertices, version 0. */
const VERTICES = 0xa0;
/** Bytes that a stream ends with at least, among them the first vertex. */
const TAIL = 32;
/** Rows of a column that are of one kind, at least and on average, where it repeats itself. */
const FEW = 8;
/** In the header of a group: a byte for every vertex follows. Nothing follows where all are zero, and it is zero. */
const BYTES = 3;

/**
 * Encoder for EXT_meshopt_compression whose vertices are to be packed by Brotli afterwards: every step from one vertex to
 * the next takes a whole byte, instead of as few bits as hold it. The stream is longer for that, but in bytes what is
 * alike stays alike, and Brotli makes a tenth to a fifth less of a building. Triangles, and columns of few different
 * rows, are packed as meshoptimizer does.
 */
export const LoosePacking: typeof MeshoptEncoder = {
  ...MeshoptEncoder,
  encodeGltfBuffer: (source, count, size, mode, version) =>
    mode === 'ATTRIBUTES' && !repeatsItself(source, size)
      ? packVertices(source, count, size)
      : MeshoptEncoder.encodeGltfBuffer(source, count, size, mode, version),
};

/** Whether few different rows make up a column, such as colours and elements: of these Brotli makes no less. */
function repeatsItself(source: Uint8Array, size: number): boolean {
  const words = new Uint32Array(source.slice().buffer);
  return uniqueRows(words, size / 4).first.length < source.length / size / FEW;
}

/**
 * Vertices as a stream of mode “attributes”, as the appendix of EXT_meshopt_compression describes it.
 *
 * @param source vertices one after the other
 * @param size bytes a vertex, a multiple of four
 */
export function packVertices(source: Uint8Array, count: number, size: number): Uint8Array {
  const most = Math.min(BLOCK.vertices, Math.floor(BLOCK.bytes / size / GROUP) * GROUP);
  const longest = Math.ceil(count / most) * (Math.ceil(most / GROUP / 4) + GROUP) + count;
  const out = new Uint8Array(1 + longest * size + TAIL + size);
  let at = 0;
  out[at++] = VERTICES;
  for (let start = 0; start < count; start += most) {
    const end = Math.min(count, start + most);
    for (let byte = 0; byte < size; byte++) {
      const header = at;
      at += Math.ceil((end - start) / GROUP / 4);
      for (let group = 0; start + group * GROUP < end; group++) {
        let any = 0;
        for (let i = 0; i < GROUP; i++) {
          const vertex = start + group * GROUP + i;
          const step = vertex < end ? zigzag(valueAt(vertex, byte) - valueAt(Math.max(0, vertex - 1), byte)) : 0;
          out[at + i] = step;
          any |= step;
        }
        if (any === 0) continue;
        out[header + (group >> 2)]! |= BYTES << ((group & 3) * 2);
        at += GROUP;
      }
    }
  }
  // The first vertex, which the steps begin at, stands last.
  at += Math.max(TAIL, size);
  if (count > 0) out.set(source.subarray(0, size), at - size);
  return out.slice(0, at);

  function valueAt(vertex: number, byte: number): number {
    return source[vertex * size + byte]!;
  }
}

/** A difference of two bytes, to either side of zero by turns. */
function zigzag(difference: number): number {
  const signed = (difference << 24) >> 24;
  return ((signed << 1) ^ (signed >> 31)) & 255;
}
