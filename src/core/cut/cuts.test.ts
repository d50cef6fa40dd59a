import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../math/mat4';
import { heightOver } from '../section/plane';
import {
  along,
  boxAbout,
  boxFaces,
  cutFaces,
  facedPlane,
  facing,
  flippedPlane,
  isCutAway,
  movedFace,
  movedPlane,
  NO_CUTS,
  planeAt,
  turnedPlane,
  type CutPlane,
} from './cuts';

const number = (size: number) => fc.double({ min: -size, max: size, noNaN: true });
const point = fc.tuple(number(50), number(50), number(50));
const direction = fc.tuple(number(1), number(Math.PI)).map(([z, turn]): Vec3 => {
  const flat = Math.sqrt(1 - z * z);
  return [flat * Math.cos(turn), flat * Math.sin(turn), z];
});
const plane = fc.tuple(point, direction).map(([at, normal]) => planeAt('a', at, normal));
const isAway = (one: CutPlane, at: Vec3) => isCutAway(cutFaces({ ...NO_CUTS, planes: [one] }), at);

describe('a plane that cuts', () => {
  it('takes away what lies before it, and the other side once it is flipped', () => {
    fc.assert(
      fc.property(plane, point, (one, at) => {
        const height = heightOver(one, at);
        fc.pre(Math.abs(height) > 1e-6);
        expect(isAway(one, at)).toBe(height > 0);
        expect(isAway(flippedPlane(one), at)).toBe(height < 0);
        expect(isAway({ ...one, isOn: false }, at)).toBe(false);
      }),
    );
  });

  it('as a slice leaves what lies between two planes, also when it is flipped', () => {
    fc.assert(
      fc.property(plane, number(5), (one, by) => {
        fc.pre(Math.abs(by) > 1e-6 && Math.abs(by + 2) > 1e-6);
        const slice = { ...one, thickness: 2 };
        const at = along(one.middle, one.normal, by);
        expect(isAway(slice, at)).toBe(by > 0 || by < -2);
        expect(isAway(flippedPlane(slice), at)).toBe(by > 0 || by < -2);
      }),
    );
  });

  it('takes its frame along when it is moved, and turns about its middle', () => {
    fc.assert(
      fc.property(plane, number(9), direction, number(3), (one, offset, axis, angle) => {
        const moved = movedPlane(one, offset);
        expect(heightOver(moved, moved.middle)).toBeCloseTo(0, 9);
        const turned = turnedPlane(moved, axis, angle);
        expect(heightOver(turned, turned.middle)).toBeCloseTo(0, 9);
        expect(Math.hypot(...turned.normal)).toBeCloseTo(1, 12);
        const back = turnedPlane(turned, axis, -angle);
        back.normal.forEach((one, i) => expect(one).toBeCloseTo(moved.normal[i]!, 9));
      }),
    );
    const east = planeAt('a', [1, 2, 3], [1, 0, 0]);
    turnedPlane(east, [0, 0, 1], Math.PI / 2).normal.forEach((one, i) => expect(one).toBeCloseTo([0, 1, 0][i]!, 12));
  });

  it('faces where it is told to', () => {
    fc.assert(
      fc.property(plane, (one) => {
        facedPlane(one, facing(one)).normal.forEach((own, i) => expect(own).toBeCloseTo(one.normal[i]!, 6));
      }),
    );
    expect(facedPlane(planeAt('a', [0, 0, 2], [1, 0, 0]), { around: 0, up: Math.PI / 2 })).toMatchObject({
      normal: [0, 0, 1],
      offset: 2,
    });
  });
});

describe('a box that cuts', () => {
  const box = { ...boxAbout([0, 0, 0, 4, 2, 3], 0.5), turn: Math.PI / 2 };

  it('leaves what lies within, turned as it is', () => {
    const faces = cutFaces({ ...NO_CUTS, box });
    // Five metres long, along y since it was turned by a right angle about (2, 1).
    expect(isCutAway(faces, [2, 3.4, 1])).toBe(false);
    expect(isCutAway(faces, [2, 3.6, 1])).toBe(true);
    expect(isCutAway(faces, [3.4, 1, 1])).toBe(false);
    expect(isCutAway(faces, [3.6, 1, 1])).toBe(true);
    expect(isCutAway(faces, [2, 1, 3.6])).toBe(true);
  });

  it('keeps its opposite face when one is moved, and some size', () => {
    fc.assert(
      fc.property(fc.nat(5), number(10), (face, by) => {
        const moved = movedFace(box, face, by);
        const opposite = face % 2 === 0 ? face + 1 : face - 1;
        const at = (of: typeof box, i: number) => boxFaces(of)[i]!.plane.offset;
        expect(at(moved, opposite)).toBeCloseTo(at(box, opposite), 9);
        expect(Math.min(...moved.size)).toBeGreaterThan(0);
        if (by > 0) expect(at(moved, face)).toBeCloseTo(at(box, face) + by, 9);
      }),
    );
  });
});
