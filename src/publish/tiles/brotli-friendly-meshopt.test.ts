import { brotliCompressSync } from 'node:zlib';
import fc from 'fast-check';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import { beforeAll, describe, expect, it } from 'vitest';
import { LoosePacking, packVertices } from './brotli-friendly-meshopt';

beforeAll(() => Promise.all([MeshoptEncoder.ready, MeshoptDecoder.ready]));

/** What meshoptimizer's own decoder makes of a stream. */
function unpack(stream: Uint8Array, count: number, size: number): Uint8Array {
  const out = new Uint8Array(count * size);
  MeshoptDecoder.decodeGltfBuffer(out, count, size, stream, 'ATTRIBUTES');
  return out;
}

describe('loose packing', () => {
  it('is read back to the byte by the decoder of the format', () => {
    fc.assert(
      fc.property(
        fc
          .integer({ min: 1, max: 64 })
          .chain((words) =>
            fc.tuple(
              fc.constant(words * 4),
              fc.uint8Array({ maxLength: words * 4 * 70, minLength: words * 4 }),
              fc.integer({ min: 1, max: 12 }),
            ),
          ),
        ([size, bytes, times]) => {
          // Many blocks, with runs of equal vertices in them.
          const some = bytes.subarray(0, Math.floor(bytes.length / size) * size);
          const source = new Uint8Array(some.length * times);
          for (let i = 0; i < times; i++) source.set(some, i * some.length);
          const count = source.length / size;
          expect(unpack(packVertices(source, count, size), count, size)).toEqual(source);
        },
      ),
    );
  });

  it('holds nothing where there is nothing', () => {
    expect(unpack(packVertices(new Uint8Array(0), 0, 8), 0, 8)).toEqual(new Uint8Array(0));
  });

  it('lets Brotli make less of posts that stand about than of what meshoptimizer packs', () => {
    // Eight corners a post, 12 cm wide and 3 m high in steps of a millimetre, scattered by a multiplicative generator.
    let seed = 1;
    const chance = (below: number) => (seed = (seed * 48271) % 2147483647) % below;
    const corners = Array.from({ length: 400 }, () => {
      const [x, z, height] = [chance(60_000), chance(60_000), 3000 - chance(2) * 400];
      return Array.from({ length: 8 }, (_, corner) => [
        x + (corner & 1) * 120,
        ((corner >> 2) & 1) * height,
        z + ((corner >> 1) & 1) * 120,
        0,
      ]);
    }).flat();
    const source = new Uint8Array(Uint16Array.from(corners.flat()).buffer);
    const weigh = (encoder: typeof MeshoptEncoder) =>
      brotliCompressSync(encoder.encodeGltfBuffer(source, corners.length, 8, 'ATTRIBUTES', 0)).length;
    expect(weigh(LoosePacking)).toBeLessThan(weigh(MeshoptEncoder) * 0.95);
  });

  it('leaves colours of a few kinds to meshoptimizer', () => {
    const colours = new Uint8Array(Uint16Array.from({ length: 4000 }, (_, i) => (i >> 9) * 7919).buffer);
    expect(LoosePacking.encodeGltfBuffer(colours, 1000, 8, 'ATTRIBUTES', 0)).toEqual(
      MeshoptEncoder.encodeGltfBuffer(colours, 1000, 8, 'ATTRIBUTES', 0),
    );
  });

  it('leaves triangles to meshoptimizer', () => {
    const triangles = new Uint8Array(Uint16Array.of(0, 1, 2, 2, 1, 3).buffer);
    expect(LoosePacking.encodeGltfBuffer(triangles, 6, 2, 'TRIANGLES')).toEqual(
      MeshoptEncoder.encodeGltfBuffer(triangles, 6, 2, 'TRIANGLES'),
    );
  });
});
