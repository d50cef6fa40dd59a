import { expect, it } from 'vitest';
import { shareGeometries } from './share-geometries';
import { meshModel, moved, SQUARE } from '../test-model';

it('lets equal geometries be one, and keeps those apart that differ in anything', () => {
  const model = meshModel(
    SQUARE.positions,
    SQUARE.indices,
    [0, 1, 2, 3, 4].map((x) => moved(x, 0, 0)),
  );
  const [one] = model.geometries as [(typeof model.geometries)[0]];
  const shifted = one.positions.slice();
  shifted[0] = shifted[0]! + 1e-6;
  const vertices = one.positions.length / 3;
  model.geometries = [
    one,
    { positions: one.positions.slice(), indices: one.indices.slice() },
    { positions: shifted, indices: one.indices },
    { ...one, colors: new Uint8Array(vertices * 4) },
    { ...one, colors: new Uint8Array(vertices * 4).fill(9) },
  ];
  model.placements.forEach((placement, i) => (placement.geometry = i));
  const shared = shareGeometries(model);
  expect(shared.geometries).toHaveLength(4);
  expect(shared.placements.map(({ geometry }) => geometry)).toEqual([0, 0, 1, 2, 3]);
  expect(shared.placements.map(({ matrix }) => matrix[12])).toEqual([0, 1, 2, 3, 4]);
  expect(model.placements[1]!.geometry).toBe(1); // what was given is not changed
});
