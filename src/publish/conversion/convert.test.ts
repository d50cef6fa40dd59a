import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { structureIfc } from '@/demo/library/structure';
import { ModelFileError } from '@/formats/model-file-error';
import { convert, type ConvertLimits } from './convert';
import { dieWithParent } from './die-with-parent';

const AMPLE: ConvertLimits = { minutes: 2, memoryMb: 2000 };
let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'convert-'));
});
afterEach(() => rm(folder, { recursive: true }));

async function run(
  content: string,
  limits: ConvertLimits,
  onProgress?: (phase: string, share: number) => void,
  signal?: AbortSignal,
) {
  const path = join(folder, 'source');
  await writeFile(path, content);
  return convert({ path, fileName: 'frame.ifc', outFolder: join(folder, 'out'), limits, onProgress, signal });
}

describe('a conversion in a process of its own', () => {
  it('answers with the report, writes facts by row, and shows its progress', async () => {
    const phases = new Set<string>();
    const report = await run(structureIfc(), AMPLE, (phase) => phases.add(phase));
    expect(report.counts.elements).toBe(345);
    expect([...phases]).toEqual(['reading', 'examining', 'tiling', 'indexing']);
    const facts = JSON.parse(await readFile(join(folder, 'out', 'properties.json'), 'utf8')) as { guid: string }[];
    const { guid } = JSON.parse(await readFile(join(folder, 'out', 'elements.json'), 'utf8')) as { guid: string[] };
    expect(facts.map((row) => row.guid)).toEqual(guid);
  });

  it('refuses what the reader refuses, in the same words', async () => {
    await expect(run(structureIfc().slice(0, 2000), AMPLE)).rejects.toThrow('“frame.ifc” breaks off before its end');
  });

  it('ends with the process that started it, even when that is killed', async () => {
    const [program, ...args] = dieWithParent(['/usr/bin/sleep', '61']);
    // A parent that starts the child, tells its number, and waits to be killed.
    const script = `const c=require('child_process').spawn(${JSON.stringify(program)},${JSON.stringify(args)});console.log(c.pid);setInterval(()=>{},1000)`;
    const parent = spawn(process.execPath, ['-e', script], { stdio: ['ignore', 'pipe', 'inherit'] });
    const pid = Number(
      await new Promise((done) => parent.stdout.once('data', (chunk: Buffer) => done(chunk.toString()))),
    );
    const runs = () => existsSync(`/proc/${pid}`);
    expect(runs()).toBe(true);
    parent.kill('SIGKILL');
    await vi.waitFor(() => expect(runs()).toBe(false), 5000);
  });

  it('is stopped when it takes too long or grows too large, and says which', async () => {
    const late = run(structureIfc(), { ...AMPLE, minutes: 0.002 });
    await expect(late).rejects.toThrow('“frame.ifc” took longer than 0.002 minutes');
    await expect(late).rejects.toBeInstanceOf(ModelFileError);
    await expect(run(structureIfc(), { ...AMPLE, memoryMb: 60 })).rejects.toThrow(/more than 60 MB of memory/);
    const stop = new AbortController();
    const stopped = run(structureIfc(), AMPLE, () => stop.abort(), stop.signal);
    await expect(stopped).rejects.toThrow('“frame.ifc” was stopped');
    const before = run(structureIfc(), AMPLE, undefined, AbortSignal.abort());
    await expect(before, 'before it began').rejects.toThrow('“frame.ifc” was stopped');
    expect(existsSync(join(folder, 'out', 'report.json'))).toBe(false);
  });
});
