import { existsSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { SurfaceMaterial } from '@/formats/building-model';
import { writePictures } from './pictures';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'pictures-'));
});
afterEach(() => rm(folder, { recursive: true }));

const plain = (width: number, height: number, r: number, g: number, b: number) =>
  sharp({ create: { width, height, channels: 3, background: { r, g, b } } })
    .png()
    .toBuffer();

/** A material for each picture. */
function modelWith(pictures: Uint8Array[]) {
  const materials = pictures.map((_, texture): SurfaceMaterial => ({ name: '', color: [1, 0.5, 1, 1], texture }));
  return { materials, textures: pictures.map((bytes, i) => ({ name: `picture ${i}`, bytes })) };
}

const first = (count: number) => new Set(Array.from({ length: count }, (_, i) => i));

describe('pictures', () => {
  it('are written small and in full, keep their shape, and give surfaces their mean colour', async () => {
    const out = await writePictures(modelWith([await plain(3000, 1500, 200, 100, 50)]), first(1), folder);
    const full = await sharp(join(folder, 'textures', '0.webp')).metadata();
    const small = await sharp(join(folder, 'textures', '0-small.webp')).metadata();
    expect([full.format, full.width, full.height, small.width, small.height]).toEqual(['webp', 1024, 512, 64, 32]);
    const [r, g, b, a] = out.surfaces[0]!.plain;
    // The material halves the green; packing a picture may cost a step of 255.
    for (const [i, due] of [200, 50, 50].entries()) expect(Math.abs([r, g, b][i]! * 255 - due)).toBeLessThan(2);
    expect(a).toBe(1);
    expect(out.files.get(0)!.full.memory).toBeCloseTo((1024 * 512 * 4 * 4) / 3, 0);
    expect(out.warnings).toEqual([]);
  });

  it('share a budget: many are kept smaller than few', async () => {
    const bytes = await plain(1024, 1024, 9, 9, 9);
    await writePictures(modelWith(Array.from({ length: 40 }, () => bytes)), first(40), folder);
    expect((await sharp(join(folder, 'textures', '39.webp')).metadata()).width).toBe(512);
  });

  it('that cannot be read are told of, and their surfaces stay plain; unused ones are not written', async () => {
    const good = await plain(10, 10, 0, 0, 0);
    const model = modelWith([Buffer.from('no picture at all'), good.subarray(0, 60), good]);
    const out = await writePictures(model, first(2), folder);
    expect(out.surfaces.slice(0, 2).map(({ texture, plain: colour }) => [texture, colour[1]])).toEqual([
      [undefined, 0.5],
      [undefined, 0.5],
    ]);
    expect(out.warnings.map(({ reason }) => reason.includes('damaged'))).toEqual([true, true]);
    expect(existsSync(join(folder, 'textures', '2.webp'))).toBe(false);
  });
});
