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
