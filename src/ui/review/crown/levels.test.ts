import { describe, expect, it } from 'vitest';
import { AS_IN_FILE } from '@/core/placement/placement';
import type { StoreyPlan } from '@/core/plan/plan';
import { extentOf, levelAt, levelsOf } from './levels';

const plan = (name: string, floor: number, walls = 'M0 0l1000 0 0 500-1000 0z'): StoreyPlan => ({ name, floor, walls, ground: '', light: '', steps: '' }); // prettier-ignore

describe('levels', () => {
  it('join the storeys of models that stand on nearly the same floor, wherever the models are placed', () => {
    const levels = levelsOf([
      { modelId: 'a', placement: AS_IN_FILE, plans: { corner: [0, 0], storeys: [plan('Ground floor', 0), plan('First floor', 3.8), plan('Roof', 7.6)] } }, // prettier-ignore
      { modelId: 'b', placement: { turn: 0, offset: [0, 0, 10] }, plans: { corner: [0, 0], storeys: [plan('EG', -10.3), plan('OG', -6.4)] } }, // prettier-ignore
    ]);
    expect(levels.map(({ short, parts }) => [short, parts.map(({ modelId }) => modelId).sort()])).toEqual([
      ['E', ['a', 'b']],
      ['O', ['a', 'b']],
      ['R', ['a']],
    ]);
    expect(levels.map(({ top }) => top)).toEqual([expect.closeTo(3.6, 6), 7.6, Infinity]);
    expect([-5, 0.1, 3.7, 99].map((height) => levelAt(levels, height))).toEqual([0, 0, 1, 2]);
  });

  it('have short names that differ', () => {
    const shorts = (...names: string[]) =>
      levelsOf([{ modelId: 'a', placement: AS_IN_FILE, plans: { corner: [0, 0], storeys: names.map((name, i) => plan(name, i * 3)) } }]).map(({ short }) => short); // prettier-ignore
    expect(shorts('Basement', 'Ground', 'First floor', 'Level 02', '')).toEqual(['B', 'G', '1', '02', '12.0']);
    expect(shorts('Saal', 'Studio')).toEqual(['0', '1']);
  });

  it('reach as far as what they show, turned as the model is', () => {
    const [x0, y0, x1, y1] = extentOf(
      levelsOf([{ modelId: 'a', placement: { turn: Math.PI / 2, offset: [100, 0, 0] }, plans: { corner: [2, 1], storeys: [plan('G', 0)] } }]), // prettier-ignore
    )!;
    // A quarter against the clock: what reached from 2 to 12 east reaches so far north.
    expect([x0, y0, x1, y1].map((value) => Math.round(value * 1e6) / 1e6)).toEqual([94, 2, 99, 12]);
    expect(extentOf([])).toBeNull();
  });
});
