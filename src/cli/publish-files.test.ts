import { mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { structureIfc } from '@/demo/library/structure';
import { publishFiles } from './publish-files';

let folder: string;
const said: string[] = [];
const complained: string[] = [];

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'cli-'));
  said.length = complained.length = 0;
  vi.spyOn(console, 'log').mockImplementation((line: string) => void said.push(line));
  vi.spyOn(console, 'error').mockImplementation((line: string) => void complained.push(line));
});
afterEach(async () => {
  vi.restoreAllMocks();
  await rm(folder, { recursive: true });
});

it('publishes several files into a folder each and prints one JSON line a file', async () => {
  const files = ['a.ifc', 'b.ifc'].map((name) => join(folder, name));
  for (const file of files) await writeFile(file, structureIfc());
  expect(await publishFiles(files, join(folder, 'out'), true)).toBe(0);
  expect((await readdir(join(folder, 'out'))).sort()).toEqual(['a', 'b']);
  const summaries = said.map((line) => JSON.parse(line) as Record<string, unknown>);
  expect(
    summaries.map((summary) => [summary.file, summary.elements, summary.elementsWithGeometry, summary.unread]),
  ).toEqual([
    ['a.ifc', 345, 345, 0],
    ['b.ifc', 345, 345, 0],
  ]);
});

it('ends with 2 and one clear line on a bad file, and still publishes the others', async () => {
  await writeFile(join(folder, 'good.ifc'), structureIfc());
  await writeFile(join(folder, 'bad.ifc'), 'not a model');
  expect(
    await publishFiles(
      [join(folder, 'bad.ifc'), join(folder, 'good.ifc'), join(folder, 'gone.ifc')],
      join(folder, 'out'),
      false,
    ),
  ).toBe(2);
  expect(complained).toHaveLength(2);
  expect(complained[0]).toMatch(/^yurta publish: “bad.ifc” is not a model/);
  expect(complained[1]).toContain('does not exist');
  expect(said).toHaveLength(1);
  // A folder that holds something is never overwritten.
  expect(await publishFiles([join(folder, 'good.ifc')], join(folder, 'out'), false)).toBe(2);
  expect(complained[2]).toContain('is not empty');
});

it('reads a file that names no unit as it is told, and says how it was read', async () => {
  await writeFile(join(folder, 'sheet.obj'), 'o Sheet\nv 0 0 0\nv 12 0 0\nv 12 0 8\nf 1 2 3\n');
  const frame = { metresPerUnit: 0.0254, up: 'Z' as const };
  expect(await publishFiles([join(folder, 'sheet.obj')], join(folder, 'inches'), true, frame)).toBe(0);
  expect(await publishFiles([join(folder, 'sheet.obj')], join(folder, 'proposed'), true)).toBe(0);
  const [inches, proposed] = said.map((line) => JSON.parse(line) as { frame: object; extent: number[] });
  expect(inches!.frame).toMatchObject({ from: 'chosen', metresPerUnit: 0.0254, up: 'Z' });
  expect(inches!.extent[3]).toBeCloseTo(12 * 0.0254, 3);
  expect(inches!.extent[5]).toBeCloseTo(8 * 0.0254, 3);
  expect(proposed!.frame).toMatchObject({ from: 'proposed', metresPerUnit: 1, up: 'Y' });
});
