import sharp from 'sharp';
import { afterEach, expect, it } from 'vitest';
import { placeGeometry } from './element-geometry';
import { plainSurfaces } from './pictures';
import { SecondCore } from './second-core';
import { field, meshModel, moved } from './test-model';

const mesh = field(20, 0.5);
const model = meshModel(mesh.positions, mesh.indices, [moved(0, 0, 0), moved(20, 0, 0), moved(0, 0, 0)]);
const geometry = placeGeometry(model);
let core: SecondCore;
afterEach(() => core.end());

it('finds and pictures the same beside this thread and in it', async () => {
  const results = [];
  for (const triangles of [1, 1_000_000]) {
    core = new SecondCore(triangles);
    const [examination, picture] = await Promise.all([
      core.run('examine', geometry, { model }),
      core.run('picture', geometry, { surfaces: plainSurfaces(model.materials), width: 64, height: 40 }),
    ]);
    results.push({ examination, picture: [...picture] });
    await core.end();
  }
  expect(results[0]!.examination.findings.map(({ kind }) => kind)).toContain('duplicate');
  expect(results[1]).toEqual(results[0]);
  const { width, height } = await sharp(Uint8Array.from(results[0]!.picture)).metadata();
  expect([width, height]).toEqual([64, 40]);
});

it('hands on what goes wrong there, and what was not done when it ended', async () => {
  core = new SecondCore(1_000_000);
  const broken = { ...geometry, pieces: [{ ...geometry.pieces[0]!, material: 7 }] };
  await expect(
    core.run('picture', broken, { surfaces: plainSurfaces(model.materials), width: 64, height: 40 }),
  ).rejects.toThrow(/undefined/);
  const large = { surfaces: plainSurfaces(model.materials), width: 1600, height: 1000 };
  const unfinished = expect(core.run('picture', geometry, large)).rejects.toThrow('ended before its work');
  await core.end();
  await unfinished;
});
