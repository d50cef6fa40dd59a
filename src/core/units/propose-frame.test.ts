import { describe, expect, it } from 'vitest';
import type { Box3 } from '../math/box3';
import { unitName } from './length-unit';
import { proposeFrame } from './propose-frame';

const house = (scale: number): Box3 => [0, 0, 0, 12.4 * scale, 8 * scale, 6 * scale];
const LEVEL_Z: [number, number, number] = [10, 12, 40];
const LEVEL_Y: [number, number, number] = [10, 40, 12];

describe('a proposal', () => {
  it('finds metres and millimetres of a house, and of a chair', () => {
    expect(proposeFrame({ extent: house(1), facing: LEVEL_Z }, 'Y')).toMatchObject({ metresPerUnit: 1, up: 'Z' });
    expect(proposeFrame({ extent: house(1000), facing: LEVEL_Z }, 'Y')).toMatchObject({ metresPerUnit: 0.001 });
    expect(proposeFrame({ extent: [0, 0, 0, 520, 910, 480], facing: LEVEL_Y }, 'Z')).toMatchObject({
      metresPerUnit: 0.001,
      up: 'Y',
    });
    expect(proposeFrame({ extent: [-0.26, 0, -0.24, 0.26, 0.91, 0.24], facing: LEVEL_Y }, 'Z').metresPerUnit).toBe(1);
  });

  it('says why in numbers that can be checked', () => {
    expect(proposeFrame({ extent: house(1000), facing: LEVEL_Z }, 'Y').reason).toBe(
      'The file’s numbers span 12400; read as millimetres, the model is 12.4 m long. Most of its level faces look along Z, so Z is taken as up.',
    );
  });

  it('falls back on what the format mostly means when the shape does not tell', () => {
    const cube: Box3 = [0, 0, 0, 2, 2, 2];
    expect(proposeFrame({ extent: cube, facing: [8, 8, 8] }, 'Y')).toMatchObject({ up: 'Y' });
    expect(proposeFrame({ extent: cube, facing: [8, 8, 8] }, 'Z').reason).toContain('does not tell');
  });

  it('does not depend on where the model lies', () => {
    const far: Box3 = [500_000, 200_000, 0, 500_012, 200_008, 6];
    expect(proposeFrame({ extent: far, facing: LEVEL_Z }, 'Y').metresPerUnit).toBe(1);
  });

  it('has an answer for anything', () => {
    for (const size of [1e-9, 1e-3, 1, 1e9]) {
      const { metresPerUnit } = proposeFrame({ extent: [0, 0, 0, size, size, size], facing: [0, 0, 0] }, 'Z');
      expect(metresPerUnit).toBeGreaterThan(0);
    }
  });
});

it('units have names', () => {
  expect([1, 0.3048, 0.5].map(unitName)).toEqual(['metres', 'feet', 'units of 0.5 m']);
});
