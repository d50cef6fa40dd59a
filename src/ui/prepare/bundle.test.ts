import { unzipSync } from 'fflate';
import { expect, it } from 'vitest';
import { bundle } from './bundle';

const file = (name: string, text = name) => new File([text], name);

it('joins a model with the parts that were chosen with it, and leaves the others alone', async () => {
  const bundled = await bundle([
    file('chair.obj', 'v'),
    file('chair.mtl', 'newmtl'),
    file('oak.png'),
    file('house.ifc'),
  ]);
  expect(bundled.map((one) => one.name)).toEqual(['chair.obj.zip', 'house.ifc']);
  const parts = unzipSync(new Uint8Array(await bundled[0]!.arrayBuffer()));
  expect(
    Object.fromEntries(Object.entries(parts).map(([name, bytes]) => [name, Buffer.from(bytes).toString()])),
  ).toEqual({
    'chair.obj': 'v',
    'chair.mtl': 'newmtl',
    'oak.png': 'oak.png',
  });
});

it('changes nothing where nothing belongs together', async () => {
  const files = [file('a.obj'), file('b.ifc')];
  expect(await bundle(files)).toBe(files);
  const stray = [file('oak.png')];
  expect(await bundle(stray)).toBe(stray);
});
