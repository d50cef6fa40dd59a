import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { findPart, type SourceFile } from './source-file';

let folder: string;
let source: SourceFile;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'parts-'));
  const parts = join(folder, 'parts');
  for (const name of ['scene/chair.obj', 'scene/Chair.MTL', 'Textures/Oak board.png', 'secret-free.txt']) {
    await mkdir(dirname(join(parts, name)), { recursive: true });
    await writeFile(join(parts, name), name);
  }
  await writeFile(join(folder, 'outside.txt'), 'not a part');
  source = { path: join(parts, 'scene/chair.obj'), fileName: 'chair.zip', parts };
});
afterAll(() => rm(folder, { recursive: true }));

const found = (name: string) => findPart(source, name)?.slice(source.parts!.length + 1) ?? null;

describe('a part that a file names', () => {
  it('is found beside it and from the root of the parts, in any case and with any slashes', () => {
    expect(found('chair.mtl')).toBe('scene/Chair.MTL');
    expect(found('./CHAIR.mtl')).toBe('scene/Chair.MTL');
    expect(found('textures\\oak board.PNG')).toBe('Textures/Oak board.png');
    expect(found('textures/oak%20board.png')).toBe('Textures/Oak board.png');
  });

  it('is found when the author’s machine had it in another folder', () => {
    expect(found('C:\\Users\\mikko\\work\\Textures\\Oak board.png')).toBe('Textures/Oak board.png');
    expect(found('/home/mikko/scene/chair.mtl')).toBe('scene/Chair.MTL');
  });

  it('is nothing outside the parts, however the way there is written', () => {
    for (const name of ['../outside.txt', '..\\..\\outside.txt', '%2e%2e/outside.txt', join(folder, 'outside.txt')])
      expect([name, found(name)]).toEqual([name, null]);
    expect(found('')).toBeNull();
    expect(found('Textures')).toBeNull();
    expect(found('%')).toBeNull();
  });

  it('is not there where the file came alone', () => {
    expect(findPart({ ...source, parts: null }, 'chair.mtl')).toBeNull();
  });
});
