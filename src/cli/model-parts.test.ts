import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { gatherParts, partsBeside, withOneFile } from './model-parts';

let folder: string;
const at = (...steps: string[]) => join(folder, ...steps);

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'parts-'));
});
afterEach(() => rm(folder, { recursive: true }));

describe('parts beside a model', () => {
  it('are those that it names, and those that its materials name, wherever below they lie', async () => {
    await mkdir(at('pictures'));
    await writeFile(at('chair.obj'), 'mtllib Chair.MTL\nv 0 0 0\n');
    await writeFile(at('chair.mtl'), 'newmtl oak\nmap_Kd C:\\old\\Oak Board.jpg\n');
    await writeFile(at('pictures', 'oak board.JPG'), 'jpg');
    await writeFile(at('lamp.mtl'), 'map_Kd glass.png');
    await writeFile(at('glass.png'), 'png');
    await writeFile(at('holiday.jpg'), 'jpg');
    await mkdir(at('older'));
    await writeFile(at('older', 'oak board.jpg'), 'which of them is meant, the reader decides');
    expect(await partsBeside(at('chair.obj'))).toEqual([
      at('chair.mtl'),
      at('older', 'oak board.jpg'),
      at('pictures', 'oak board.JPG'),
    ]);
  });

  it('may be named as in an address, on either side of a border between two reads', async () => {
    await writeFile(at('grün.bin'), 'bin');
    await writeFile(at('wood 100%.png'), 'png');
    const far = ' '.repeat((1 << 20) - 40);
    await writeFile(at('a.gltf'), `{"asset":{},${far}"buffers":[{"uri":"gr%C3%BCn.bin"}],"images":"wood%20100%.png"}`);
    expect(await partsBeside(at('a.gltf'))).toEqual([at('grün.bin'), at('wood 100%.png')]);
  });

  it('are none of a model of a kind that is one file', async () => {
    await writeFile(at('house.ifc'), 'picture.png');
    await writeFile(at('picture.png'), 'png');
    expect(await partsBeside(at('house.ifc'))).toEqual([]);
  });
});

describe('models as they are sent', () => {
  it('take given parts along, from anywhere, as one archive; others go as they are', async () => {
    await mkdir(at('a'));
    await mkdir(at('b'));
    await mkdir(at('a', 'tex'));
    await writeFile(at('a', 'chair.obj'), 'mtllib chair.mtl');
    await writeFile(at('a', 'chair.mtl'), 'map_Kd tex/oak.png');
    await writeFile(at('a', 'tex', 'oak.png'), 'oak');
    await writeFile(at('b', 'extra.png'), 'extra');
    await writeFile(at('house.ifc'), 'house');
    const models = await gatherParts([at('a', 'chair.obj'), at('b', 'extra.png'), at('house.ifc'), at('gone.ifc')]);
    expect(models.map(({ main, parts }) => [main, parts.length])).toEqual([
      [at('a', 'chair.obj'), 3],
      [at('house.ifc'), 0],
      [at('gone.ifc'), 0],
    ]);
    let archive = '';
    const content = await withOneFile(models[0]!, (path) => readFile((archive = path)));
    const text = Object.entries(unzipSync(content)).map(([name, bytes]) => [name, Buffer.from(bytes).toString()]);
    expect(Object.fromEntries(text)).toEqual({
      'chair.obj': 'mtllib chair.mtl',
      'chair.mtl': 'map_Kd tex/oak.png',
      'tex/oak.png': 'oak',
      'extra.png': 'extra',
    });
    expect(archive).toMatch(/chair\.obj\.zip$/);
    await expect(readFile(archive)).rejects.toThrow('ENOENT');
    expect(await withOneFile(models[1]!, (path) => Promise.resolve(path))).toBe(at('house.ifc'));
  });

  it('leave parts without a model as they are', async () => {
    expect(await gatherParts(['a.png', 'house.ifc'])).toEqual([
      { main: 'a.png', parts: [] },
      { main: 'house.ifc', parts: [] },
    ]);
  });
});
