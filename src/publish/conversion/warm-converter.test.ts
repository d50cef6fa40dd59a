import { mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setImmediate, setTimeout } from 'node:timers/promises';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { structureIfc } from '@/demo/library/structure';
import { convert } from './convert';
import { endSpareConverter, hasSpareConverter, takeConverter } from './spare-converter';
import { PRACTICE_ROUNDS, WarmConverter } from './warm-converter';

const LIMITS = { minutes: 1, memoryMb: 4000 };
const PATIENT = { timeout: 40_000, interval: 50 };
let folder: string;
let warm: WarmConverter | undefined;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'warm-'));
});
afterEach(async () => {
  warm?.end();
  endSpareConverter();
  vi.restoreAllMocks();
  await rm(folder, { recursive: true });
});

const start = (options: { sample?: () => string; memoryMb?: number; quietMs?: number } = {}) =>
  (warm = new WarmConverter({
    sample: options.sample ?? structureIfc,
    folder: join(folder, 'work'),
    limits: { ...LIMITS, memoryMb: options.memoryMb ?? LIMITS.memoryMb },
    quietMs: options.quietMs ?? 10,
  }));

async function publish(content: string) {
  const path = join(folder, 'sheet.obj');
  await writeFile(path, content);
  return convert({ path, fileName: 'sheet.obj', outFolder: join(folder, 'out'), limits: LIMITS });
}

const ready = () => vi.waitFor(() => expect(hasSpareConverter(LIMITS.memoryMb)).toBe(true), PATIENT);

it('has a process ready that has published before, and leaves nothing behind', async () => {
  start();
  await ready();
  await vi.waitFor(async () => expect(await readdir(join(folder, 'work'))).toEqual([]), PATIENT);
  const report = await warm!.during(() => publish('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n'));
  expect(report.counts.triangles).toBe(1);
  const converter = takeConverter(LIMITS.memoryMb);
  expect(converter.published, 'the sample twice, and the sheet').toBe(3);
  converter.kill();
});

it('makes another one ready when a file has cost the first', async () => {
  start();
  await ready();
  await expect(warm!.during(() => publish(''))).rejects.toThrow('is empty');
  expect(hasSpareConverter(LIMITS.memoryMb)).toBe(false);
  await ready();
});

it('makes another one ready when a file takes it at the very moment when practice is done', async () => {
  start();
  const until = async (isThere: boolean) => {
    while (hasSpareConverter(LIMITS.memoryMb) !== isThere) await setImmediate();
  };
  for (let round = 1; round < PRACTICE_ROUNDS; round++) {
    await until(true);
    await until(false);
  }
  await until(true);
  await expect(warm!.during(() => publish(''))).rejects.toThrow('is empty');
  await ready();
});

it('gives way to a file', async () => {
  const sample = vi.fn(structureIfc);
  start({ sample });
  await vi.waitFor(() => expect(sample).toHaveBeenCalled(), PATIENT);
  const error = vi.spyOn(process.stderr, 'write');
  await warm!.during(async () => {
    await vi.waitFor(async () => expect(await readdir(join(folder, 'work'))).toEqual([]), { timeout: 2000 });
    expect(hasSpareConverter(LIMITS.memoryMb)).toBe(false);
  });
  expect(error, 'no trouble').not.toHaveBeenCalled();
  await ready();
  expect(sample).toHaveBeenCalledTimes(2);
});

it('tries only once where the process would be too heavy to keep, or the sample fails', async () => {
  const heavy = vi.fn(structureIfc);
  start({ sample: heavy, memoryMb: 800 });
  await vi.waitFor(() => expect(heavy).toHaveBeenCalledTimes(1), PATIENT);
  await vi.waitFor(async () => expect(await readdir(join(folder, 'work'))).toEqual([]), PATIENT);
  await warm!.during(async () => undefined);
  const said = vi.spyOn(process.stderr, 'write').mockReturnValue(true);
  const bad = vi.fn(() => 'no model');
  start({ sample: bad });
  await vi.waitFor(
    () => expect(said).toHaveBeenCalledWith(expect.stringContaining('no converter is kept ready')),
    PATIENT,
  );
  await warm!.during(async () => undefined);
  await setTimeout(200);
  expect([heavy.mock.calls.length, bad.mock.calls.length]).toEqual([1, 1]);
});
