import { describe, expect, it } from 'vitest';
import { findLevels } from './find-levels';

describe('levels', () => {
  it('are found where much is level, and tables and sills are none', () => {
    const floors = [0, 3.8, 7.6].map((height) => ({ height, area: 400 }));
    const furniture = [0.74, 0.9, 4.54].map((height) => ({ height, area: 90 }));
    const specks = [2.6, 6.2].map((height) => ({ height, area: 8 }));
    expect(findLevels([...furniture, ...specks, ...floors])).toEqual([0, 3.8, 7.6]);
  });

  it('are one where floors differ by a threshold', () => {
    const [level, ...others] = findLevels([
      { height: 0, area: 100 },
      { height: 0.02, area: 80 },
      { height: 0.15, area: 60 },
    ]);
    expect(level).toBeGreaterThanOrEqual(0);
    expect(level).toBeLessThan(0.15);
    expect(others).toEqual([]);
  });

  it('are none where nothing is level', () => {
    expect(findLevels([])).toEqual([]);
  });
});
