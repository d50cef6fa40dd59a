import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { structureIfc } from '@/demo/library/structure';
import { convert } from './convert';
import { endSpareConverter, takeConverter } from './spare-converter';

const MEMORY = 4000;
const SHEET = 'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n';
let folder: string;
let count = 0;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'spare-'));
});
afterEach(async () => {
  endSpareConverter();
  await rm(folder, { recursive: true });
});

async function publish(content: string, memoryMb = MEMORY, signal?: AbortSignal) {
  const path = join(folder, 'source');
  await writeFile(path, content);
  const outFolder = join(folder, `out-${count++}`);
  const fileName = content.startsWith('ISO') ? 'frame.ifc' : 'sheet.obj';
  const report = await convert({ path, fileName, outFolder, limits: { minutes: 1, memoryMb }, signal });
  return { report, folder: outFolder };
}

/** How many files the process that waits has published; 0 if none waits. */
function waiting(memoryMb = MEMORY): number {
  const converter = takeConverter(memoryMb);
  const { published } = converter;
  converter.kill();
  return published;
}

it('publishes the next file with the process of the last, as if it were the first', async () => {
  const first = await publish(structureIfc());
  const between = await publish(SHEET);
  const again = await publish(structureIfc());
  expect(waiting()).toBe(3);
  expect(between.report.counts.triangles).toBe(1);
  expect({ ...again.report, time: 0 }).toEqual({ ...first.report, time: 0 });
  for (const file of ['tileset.json', 'elements.json', 'tiles/0.glb', 'properties.json', 'preview.png'])
    expect(await readFile(join(again.folder, file)), file).toEqual(await readFile(join(first.folder, file)));
  expect(waiting(), 'it was taken').toBe(0);
});

it('does not keep what has refused a file, was stopped, or is bound to other limits', async () => {
  await expect(publish('')).rejects.toThrow('is empty');
  expect(waiting()).toBe(0);
  await expect(publish(SHEET, MEMORY, AbortSignal.timeout(50))).rejects.toThrow('was stopped');
  expect(waiting()).toBe(0);
  await publish(SHEET);
  expect(waiting(MEMORY / 2), 'may have less memory').toBe(0);
  expect(waiting()).toBe(1);
  // Of what it may have, a process that waits holds little: here 100 MB, which Node with the reader library exceeds.
  await publish(structureIfc(), 800);
  expect(waiting(800)).toBe(0);
});

it('goes on with a new process when the one that waited is gone', async () => {
  await publish(SHEET);
  const converter = takeConverter(MEMORY);
  const gone = new Promise<void>((done) => converter.onEnd(done));
  converter.kill();
  await gone;
  await vi.waitFor(() => expect(waiting()).toBe(0));
  expect((await publish(SHEET)).report.counts.triangles).toBe(1);
});
