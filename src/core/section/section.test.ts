import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cross, unit } from '../math/vec3';
import type { Vec3 } from '../math/mat4';
import type { TriangleMesh } from './crossing';
import { signedArea } from './path';
import { heightOver, inPlane, inSpace, planeFrame, planeOf, planeThrough, type Plane } from './plane';
import { cutElement } from './section';
import { box, cells, cylinder, inverted, mapped, prism, soup, sphere, volume } from './test-solids';

const level = (z: number): Plane => ({ normal: [0, 0, 1], offset: z });
const area = (meshes: TriangleMesh[], plane: Plane) => cutElement(meshes, plane)?.area ?? 0;
const shape = (meshes: TriangleMesh[], plane: Plane) => {
  const cut = cutElement(meshes, plane)!;
  return { closed: cut.isClosed, regions: cut.regions.map(({ holes }) => holes.length), lines: cut.lines.length };
};

const direction = fc
  .tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: -Math.PI, max: Math.PI, noNaN: true }))
  .map(([z, turn]): Vec3 => [Math.sqrt(1 - z * z) * Math.cos(turn), Math.sqrt(1 - z * z) * Math.sin(turn), z]);

describe('a plane', () => {
  it('has a frame that is right-handed, upright and square', () => {
    fc.assert(
      fc.property(direction, fc.double({ min: -50, max: 50, noNaN: true }), (normal, offset) => {
        const plane = planeOf(normal, offset)!;
        const frame = planeFrame(plane);
        cross(frame.x, frame.y).forEach((one, axis) => expect(one).toBeCloseTo(plane.normal[axis]!, 9));
        // A plane as good as level is seen with north up, and leans by what it leans itself: its sine is √(1 − z²).
        const lean = Math.sqrt(Math.max(0, 1 - plane.normal[2] ** 2));
        const isLevel = lean < 5e-5;
        expect(frame.y[2]).toBeGreaterThanOrEqual(-(isLevel ? lean : 0) - 1e-12);
        const point = inSpace(frame, [3, -4]);
        expect(heightOver(plane, point)).toBeCloseTo(0, 9);
        inPlane(frame, point).forEach((one, axis) => expect(one).toBeCloseTo([3, -4][axis]!, 9));
      }),
    );
    expect(planeFrame(level(2))).toEqual({ origin: [0, 0, 2], x: [1, 0, 0], y: [0, 1, 0] });
  });

  it('takes normals of any length, and refuses what is none', () => {
    expect(planeOf([0, 0, 4], 8)).toEqual(level(2));
    expect([planeOf([0, 0, 0], 1), planeOf([NaN, 0, 1], 1), planeOf([0, 0, 1], Infinity)]).toEqual([null, null, null]);
  });
});

describe('the section of a solid', () => {
  it('of a box is the rectangle that one knows, from either side', () => {
    const solid = box([1, 2, 3], [4, 7, 5]);
    expect(area([solid], level(4))).toBeCloseTo(15, 12);
    expect(area([solid], { normal: [0, 0, -1], offset: -4 })).toBeCloseTo(15, 12);
    expect(area([solid], planeOf([1, 0, 0], 2)!)).toBeCloseTo(10, 12);
    // Slanted by 45° about Y through the middle, as long as the diagonal of a square of two metres.
    expect(area([solid], planeThrough([2.5, 4.5, 4], [1, 0, -1]))).toBeCloseTo(5 * 2 * Math.SQRT2, 9);
    expect(cutElement([solid], level(5.1))).toBeNull();
    const [region] = cutElement([solid], level(4))!.regions;
    expect(region!.border.length, 'four corners, none of the diagonals').toBe(8);
    expect(signedArea(region!.border)).toBeGreaterThan(0);
  });

  it('of a cylinder is the polygon of its sides; slanted, it grows by the cosine', () => {
    const sides = 48;
    const polygon = (sides / 2) * Math.sin((2 * Math.PI) / sides) * 0.25;
    const pipe = cylinder(0.5, 10, sides);
    expect(area([pipe], level(3.3))).toBeCloseTo(polygon, 12);
    expect(area([pipe], planeThrough([0, 0, 5], [0, Math.sin(1), Math.cos(1)]))).toBeCloseTo(polygon / Math.cos(1), 9);
  });

  it('of a sphere approaches its circle', () => {
    const at = 0.3;
    expect(area([sphere(1, 90)], level(at)) / (Math.PI * (1 - at * at))).toBeCloseTo(1, 2);
  });

  it('of an L-shaped slab with openings leaves the openings out', () => {
    const isOpening = (x: number, y: number) => (x === 1 && y === 1) || (x === 1 && y === 4) || (x === 4 && y === 1);
    const slab = cells(6, 6, 0.3, (x, y) => (x < 3 || y < 3) && !isOpening(x, y));
    expect(area([slab], level(0.15))).toBeCloseTo(27 - 3, 9);
    expect(shape([slab], level(0.15))).toEqual({ closed: true, regions: [3], lines: 0 });
    // Upright through two openings: what is left between and beside them.
    expect(area([slab], planeOf([1, 0, 0], 1.5)!)).toBeCloseTo((6 - 2) * 0.3, 9);
    expect(shape([slab], planeOf([1, 0, 0], 1.5)!).regions).toEqual([0, 0, 0]);
  });

  it('of nested shells leaves the hollow out where the inner one is turned inwards, and counts it once otherwise', () => {
    const [outer, inner] = [box([0, 0, 0], [4, 4, 4]), box([1, 1, 1], [3, 3, 3])];
    expect(area([outer, inverted(inner)], level(2))).toBeCloseTo(12, 9);
    expect(area([outer, inner], level(2))).toBeCloseTo(16, 9);
    const core = box([1.5, 1.5, 1.5], [2.5, 2.5, 2.5]);
    expect(area([outer, inverted(inner), core], level(2)), 'a solid in the hollow').toBeCloseTo(13, 9);
    expect(shape([outer, inverted(inner), core], level(2)).regions).toEqual([1, 0]);
  });

  it('of solids that overlap or touch counts each place once', () => {
    const side = (x: number) => box([x, 0, 0], [x + 2, 2, 2]);
    expect(area([side(0), side(1)], level(1))).toBeCloseTo(6, 6);
    expect(area([side(0), side(2)], level(1))).toBeCloseTo(8, 6);
    expect(shape([side(0), side(2)], level(1)).regions, 'they are one').toEqual([0]);
    expect(area([side(0), box([0, 0, 2], [2, 2, 4])], level(2)), 'where they touch').toBeCloseTo(4, 9);
  });

  it('is the same inside out, and where every face lies twice', () => {
    const solid = cells(3, 3, 1, (x, y) => x !== 1 || y !== 1);
    expect(area([inverted(solid)], level(0.5))).toBeCloseTo(8, 6);
    expect(area([solid, inverted(solid)], level(0.5))).toBeCloseTo(8, 6);
    expect(area([inverted(solid), box([5, 0, 0], [6, 1, 1])], level(0.5)), 'beside one that is not').toBeCloseTo(9, 6);
    const { positions, indices } = box([0, 0, 0], [1, 1, 1]);
    const mixed = Uint32Array.from(indices);
    for (let at = 0; at < mixed.length; at += 6) [mixed[at], mixed[at + 1]] = [mixed[at + 1]!, mixed[at]!];
    expect(area([{ positions, indices: mixed }], level(0.5)), 'each face as it happens').toBeCloseTo(1, 9);
  });
});

describe('a plane through vertices, edges and faces', () => {
  it('leaves no gaps and counts nothing twice', () => {
    const solid = box([0, 0, 0], [2, 2, 2]);
    expect(area([solid], level(2)), 'its upper face').toBeCloseTo(4, 12);
    expect(area([solid], level(0)), 'not its lower one').toBe(0);
    expect(area([solid], planeThrough([0, 0, 1], [1, -1, 0])), 'through two upright edges').toBeCloseTo(
      4 * Math.SQRT2,
      9,
    );
    expect(area([solid], planeThrough([2, 0, 0], unit([1, 1, 1])))).toBeCloseTo(2 * Math.sqrt(3), 9);
    const ball = sphere(1, 12);
    expect(cutElement([ball], level(0))!.isClosed, 'through a ring of vertices').toBe(true);
    expect(area([ball], level(0))).toBeCloseTo(12 * Math.sin(Math.PI / 12), 9);
    const roof = prism([[0, 0], [4, 0], [2, 2]], 0, 1); // prettier-ignore
    expect(area([roof], planeOf([1, 0, 0], 2)!), 'through its ridge').toBeCloseTo(2, 12);
  });

  it('holds for any stack of blocks, cut at any of their borders', () => {
    const grid = fc.array(fc.boolean(), { minLength: 16, maxLength: 16 });
    fc.assert(
      fc.property(grid, fc.integer({ min: 0, max: 4 }), (filled, at) => {
        const isSolid = (x: number, y: number) => filled[x * 4 + y]!;
        const solid = cells(4, 4, 1, isSolid);
        const behind = [0, 1, 2, 3].filter((y) => at > 0 && isSolid(at - 1, y)).length;
        expect(area([solid], planeOf([1, 0, 0], at)!)).toBeCloseTo(behind, 6);
      }),
    );
  });
});

describe('an open shell', () => {
  const wall = soup([[0, 0, 0], [3, 0, 0], [3, 0, 2], [0, 0, 0], [3, 0, 2], [0, 0, 2]]); // prettier-ignore

  it('is drawn as lines and never filled', () => {
    const cut = cutElement([wall], level(1))!;
    expect(cut).toMatchObject({ isClosed: false, area: 0, regions: [] });
    expect(cut.lines.map((line) => [...line])).toEqual([[0, 0, 3, 0]]);
  });

  it('leaves closed solids beside it as they are', () => {
    const cut = cutElement([wall, box([5, 0, 0], [6, 1, 2])], level(1))!;
    expect([cut.isClosed, cut.lines.length, cut.regions.length]).toEqual([false, 1, 1]);
    expect(cut.area).toBeCloseTo(1, 12);
  });

  it('whose gap is no wider than rounding is closed', () => {
    const { positions, indices } = box([0, 0, 0], [2, 2, 2]);
    const shaken = positions.map((one, i) => one + (((i * 7919) % 13) - 6) * 5e-6);
    expect(cutElement([{ positions: shaken, indices }], level(1))).toMatchObject({ isClosed: true });
    expect(area([{ positions: shaken, indices }], level(1))).toBeCloseTo(4, 3);
  });
});

describe('many parallel sections', () => {
  const lumps: [string, TriangleMesh][] = [
    ['a sphere', sphere(1.2, 16, [0.2, 0.1, 0.3])],
    ['a pipe', cylinder(0.7, 2, 20)],
    ['a slab with openings', cells(4, 5, 1, (x, y) => (x + 2 * y) % 5 !== 0)],
  ];

  it.each(lumps)('add up to the volume of %s, whichever way they lie (Cavalieri)', (_, solid) => {
    fc.assert(
      fc.property(direction, (normal) => {
        const reach = 7;
        const count = 700;
        let sum = 0;
        for (let i = 0; i < count; i++) {
          const plane = planeOf(normal, -reach + ((i + 0.5) * 2 * reach) / count)!;
          const cut = cutElement([solid], plane);
          if (cut) expect(cut.isClosed).toBe(true);
          sum += cut?.area ?? 0;
        }
        // Two centimetres lie between them, so that a face square to their way may be as much too early or too late.
        expect(Math.abs((sum * 2 * reach) / count / volume(solid) - 1)).toBeLessThan(0.025);
      }),
      { numRuns: 4 },
    );
  });

  it('move with the solid', () => {
    const solid = cells(3, 3, 1, (x, y) => x + y !== 2);
    fc.assert(
      fc.property(direction, direction, fc.double({ min: 0.1, max: 2.9, noNaN: true }), (axis, normal, through) => {
        const [x, y] = [unit(cross(axis, Math.abs(axis[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0])), [0, 0, 0] as Vec3];
        cross(axis, x).forEach((one, i) => (y[i] = one));
        const move = (p: Vec3, shift = 1): Vec3 =>
          [0, 1, 2].map((i) => x[i]! * p[0] + y[i]! * p[1] + axis[i]! * p[2] + shift * [500, -300, 40][i]!) as Vec3;
        const still = area([solid], planeThrough([through, 1.5, 0.5], normal));
        const moved = area([mapped(solid, (p) => move(p))], planeThrough(move([through, 1.5, 0.5]), move(normal, 0)));
        expect(moved).toBeCloseTo(still, 4);
      }),
    );
  });
});
