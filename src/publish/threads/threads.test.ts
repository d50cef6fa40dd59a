import type { Worker } from 'node:worker_threads';
import sharp from 'sharp';
import { afterEach, expect, it } from 'vitest';
import { startThread } from '@/formats/start-thread';
import { Threads } from './threads';
import { placeGeometry } from '../geometry/element-geometry';
import { plainSurfaces } from '../pictures/pictures';
import { findRepeats } from '../geometry/repeats';
import { field, meshModel, moved } from '../test-model';

const mesh = field(20, 0.5);
const model = meshModel(mesh.positions, mesh.indices, [moved(0, 0, 0), moved(20, 0, 0), moved(0, 0, 0)]);
const geometry = placeGeometry(model);
const { pieces, extent } = geometry;
const surfaces = plainSurfaces(model.materials);
const tile = { content: findRepeats(pieces), box: extent, surfaces, pictures: new Map<number, string>() };
const part = { ...pieces[0]!, source: 0, covers: 800, isCut: false, share: null, error: 0 };
let thread: Worker | null = null;
const start = () => (thread = startThread(import.meta.url, './second-thread'));
afterEach(() => thread?.terminate());

it('come to the same, whichever does the work', async () => {
  const results = [];
  for (const other of [null, start()]) {
    const threads = new Threads(other);
    const [examination, picture, encoded, coarse] = await Promise.all([
      threads.beside('examine', { model, geometry }),
      threads.beside('picture', { geometry, surfaces, width: 64, height: 40 }),
      threads.beside('encode', tile),
      threads.beside('coarsen', { parts: [part], allowed: 0.5 }),
    ]);
    results.push({ examination, picture: [...picture], encoded, coarse });
  }
  expect(results[0]!.examination.findings.map(({ kind }) => kind)).toContain('duplicate');
  expect(results[0]!.encoded!.triangles).toBe(2400);
  expect(results[0]!.coarse[0]!.indices.length).toBeLessThan(part.indices.length);
  expect(results[1]).toEqual(results[0]);
  const { width, height } = await sharp(Uint8Array.from(results[0]!.picture)).metadata();
  expect([width, height]).toEqual([64, 40]);
});

it('do here what need not wait until the other thread is free, and all that is asked for', async () => {
  const threads = new Threads(start());
  const order: string[] = [];
  const done = (name: string) => () => void order.push(name);
  const picture = threads.beside('picture', { geometry, surfaces, width: 1600, height: 1000 }).then(done('picture'));
  const coarser = threads.beside('coarsen', { parts: [part], allowed: 0.5 }).then(done('coarser'));
  const tiles = [1, 2, 3].map(() => threads.anywhere('encode', tile).then(done('tile')));
  await Promise.all([picture, coarser, ...tiles]);
  expect(order[0]).toBe('tile');
  expect(order.indexOf('coarser')).toBeGreaterThan(order.indexOf('picture'));
  expect(order.toSorted()).toEqual(['coarser', 'picture', 'tile', 'tile', 'tile']);
});

it('hand on what goes wrong there, and what was not done when they ended', async () => {
  const threads = new Threads(start());
  const large = { geometry, surfaces, width: 1600, height: 1000 };
  const broken = { ...large, geometry: { ...geometry, pieces: [{ ...pieces[0]!, material: 7 }] } };
  await expect(threads.beside('picture', broken)).rejects.toThrow(/undefined/);
  const unfinished = expect(threads.beside('picture', large)).rejects.toThrow('ended before its work');
  await thread!.terminate();
  await unfinished;
});
