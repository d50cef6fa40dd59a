import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../math/mat4';
import { FIRST_READING } from '../units/figures';
import { growingMeasure, measureOf } from './growing';
import { measureRows } from './measure-rows';
import type { Measure } from './measures';
import { cardText, quantitiesOf } from './quantities';

const measure = (kind: Measure['kind'], points: Vec3[], more: Partial<Measure> = {}): Measure => ({
  id: 'a',
  name: '',
  kind,
  points,
  normals: [],
  area: null,
  ...more,
});
const said = (one: Measure) =>
  Object.fromEntries(quantitiesOf(one).map(({ name, value }) => [name, Math.round(value * 1e6) / 1e6]));

describe('what a measure says', () => {
  it('of two places: their distance, its run along the axes, level and rise', () => {
    expect(said(measure('distance', [[1, 2, 3], [4, 6, -9]]))).toEqual({ Distance: 13, x: 3, y: 4, z: 12, Level: 5, Rise: -12 }); // prettier-ignore
  });

  it('of a chain: its length and its parts', () => {
    expect(said(measure('chain', [[0, 0, 0], [3, 4, 0], [3, 4, 2]]))).toEqual({ Length: 7, 'Part 1': 5, 'Part 2': 2 }); // prettier-ignore
  });

  it('of a polygon, however it lies in space and also where it has a bay: its area and what is around it', () => {
    const level: Vec3[] = [[0, 0, 1], [4, 0, 1], [4, 4, 1], [2, 4, 1], [2, 2, 1], [0, 2, 1]]; // prettier-ignore
    expect(said(measure('area', level))).toEqual({ Area: 12, Around: 16 });
    // A roof of 4 by 5, tilted about x by 30°.
    const [c, s] = [Math.cos(Math.PI / 6), 0.5];
    const roof: Vec3[] = [[9, 0, 0], [13, 0, 0], [13, 5 * c, 5 * s], [9, 5 * c, 5 * s]]; // prettier-ignore
    expect(said(measure('area', roof)).Area).toBeCloseTo(20, 6);
  });

  it('of three places: the angle, also a small one', () => {
    const angle = said(measure('angle', [[10, 0, 0], [0, 0, 0], [0, 0, 7]])).Angle!; // prettier-ignore
    expect(angle).toBeCloseTo(Math.PI / 2, 6);
    const small = quantitiesOf(measure('angle', [[1e3, 0, 0], [0, 0, 0], [1e3, 1e-5, 0]]))[0]!.value; // prettier-ignore
    expect(small / 1e-8).toBeCloseTo(1, 6);
  });

  it('of two faces: the angle of their planes, or how far they are apart', () => {
    const pitch = (30 * Math.PI) / 180;
    const roof: Vec3 = [Math.sin(pitch), 0, Math.cos(pitch)];
    const faces = measure('faces', [[0, 0, 0], [2, 0, 1]], { normals: [[0, 0, 1], roof] }); // prettier-ignore
    expect(said(faces).Angle).toBeCloseTo(pitch, 6);
    const walls = measure('faces', [[0, 5, 1], [2.4, 9, 0]], { normals: [[1, 0, 0], [-1, 0, 0]] }); // prettier-ignore
    expect(said(walls)).toEqual({ Angle: 0, Apart: 2.4 });
    expect(cardText(walls, FIRST_READING)).toBe('0.0°, 2.400 m apart');
  });

  it('of something round: radius and diameter', () => {
    const round = measure('round', [[0, 0, 0], [0, 0.4, 0]], { normals: [[0, 0, 1]] }); // prettier-ignore
    expect(said(round)).toEqual({ Radius: 0.4, Diameter: 0.8 });
    expect(cardText(round, FIRST_READING)).toBe('R 0.400 m');
  });

  it('goes into a table with plain numbers beside what one reads', () => {
    const rows = measureRows([{ ...measure('distance', [[0, 0, 0], [0, 3, 4]]), name: 'Door' }], FIRST_READING); // prettier-ignore
    expect(rows[1]).toEqual(['Door', 'Distance', 'Distance', '5.000 m', '5', 'm']);
  });
});

describe('a measure that grows', () => {
  const place = (x: number, normal: Vec3 | null = null) => ({ point: [x, 0, 0] as Vec3, normal });

  it('shows from its second place on, an area as a line at first', () => {
    expect(growingMeasure('distance', 'a', [place(0)])).toBeNull();
    expect(growingMeasure('distance', 'a', [place(0), place(1)])!.kind).toBe('distance');
    expect(growingMeasure('area', 'a', [place(0), place(1)])!.kind).toBe('chain');
    expect(growingMeasure('area', 'a', [place(0), place(1), place(2)])!.kind).toBe('area');
    expect(growingMeasure('face', 'a', [place(0)])).toBeNull();
  });

  it('of faces needs faces', () => {
    expect(measureOf('faces', 'a', [place(0, [0, 0, 1]), place(1)])).toBeNull();
    expect(measureOf('faces', 'a', [place(0, [0, 0, 1]), place(1, [1, 0, 0])])!.normals).toHaveLength(2);
  });
});
