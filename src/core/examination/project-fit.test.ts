import { expect, it } from 'vitest';
import type { Box3 } from '../math/box3';
import { projectFit } from './project-fit';

const house: Box3 = [0, 0, 0, 40, 30, 8];
const at = (box: Box3, x: number): Box3 => [box[0] + x, box[1], box[2], box[3] + x, box[4], box[5]];
const times = (box: Box3, factor: number) => box.map((value) => value * factor) as Box3;

it('has nothing to say of models that go together', () => {
  const chair: Box3 = [3, 3, 0, 3.6, 3.6, 0.9];
  expect(projectFit(house, [])).toBeNull();
  expect(projectFit(house, [house, chair])).toBeNull();
  expect(projectFit(chair, [house, house])).toBeNull();
  expect(projectFit(at(house, 230), [house]), 'a neighbour across the park').toBeNull();
  expect(projectFit(at(house, 5000), [house, at(house, 5050)]), 'near one of them').toBeNull();
});

it('finds what stands in another place, and how far', () => {
  expect(projectFit(at(house, 5040), [house, at(house, -100)])).toEqual({ kind: 'apart', metres: 5000 });
});

it('finds what was drawn in millimetres and read as metres, and the other way round', () => {
  for (const factor of [1000, 0.001])
    expect(projectFit(times(house, factor), [house, house])).toEqual({
      kind: 'other-scale',
      factor: expect.closeTo(factor, 9),
    });
});
