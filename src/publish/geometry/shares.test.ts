import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compose, multiply, transformPoint, type Mat4, type Vec3 } from '@/core/math/mat4';
import { emptyBox, expandByPoint } from '@/core/math/box3';
import { placeGeometry, type Piece } from './element-geometry';
import { findShares, SAME_PLACE } from './shares';
import { meshModel } from '../test-model';

/** A lopsided body, so that no turn brings it back to itself. */
const BODY = [0, 0, 0, 2, 0, 0, 0, 1, 0, 0, 0, 0.5, 1.5, 0.7, 0.3];
const FACES = [0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 4, 3, 1, 4, 2, 3, 4];

function piece(matrix: Mat4, change: Partial<Piece> = {}, body = BODY): Piece {
  const positions = new Float64Array(body.length);
  const box = emptyBox();
  for (let i = 0; i < body.length; i += 3) {
    const point = transformPoint(matrix, body[i]!, body[i + 1]!, body[i + 2]!);
    positions.set(point, i);
    expandByPoint(box, ...point);
  }
  return {
    element: 0,
    material: 0,
    positions,
    indices: Uint32Array.from(FACES),
    colors: null,
    normals: null,
    uvs: null,
    box,
    ...change,
  };
}

const axis = fc.double({ min: -1, max: 1, noNaN: true });
const motion = fc
  .tuple(axis, axis, axis, axis, fc.tuple(axis, axis, axis))
  .filter(([x, y, z, w]) => Math.hypot(x, y, z, w) > 0.1)
  .map(([x, y, z, w, by]) => {
    const length = Math.hypot(x, y, z, w);
    return compose(
      by.map((value) => value * 900),
      [x / length, y / length, z / length, w / length],
      [1, 1, 1],
    );
  });
const STILL = compose([0, 0, 0], [0, 0, 0, 1], [1, 1, 1]);

describe('shapes that pieces have in common', () => {
  it('are found wherever and however turned they stand, with the motion between them', () => {
    fc.assert(
      fc.property(motion, motion, (a, b) => {
        const [first, second] = findShares([piece(a), piece(b)]);
        expect(first!.shape).toBe(second!.shape);
        // What the motion says and where the second really stands, at a point that is none of the vertices.
        const probe: Vec3 = [0.4, 0.9, 2];
        const told = transformPoint(second!.motion, ...transformPoint(a, ...probe));
        transformPoint(b, ...probe).forEach((value, i) =>
          expect(Math.abs(value - told[i]!)).toBeLessThan(SAME_PLACE * 5),
        );
      }),
    );
  });

  it('are not found where anything else differs', () => {
    const other = compose([5, 0, 0], [0, 0, 0, 1], [1, 1, 1]);
    const mirrored = multiply(other, compose([0, 0, 0], [0, 0, 0, 1], [-1, 1, 1]));
    const larger = compose([5, 0, 0], [0, 0, 0, 1], [1.001, 1.001, 1.001]);
    const dented = BODY.map((value, i) => (i === 14 ? value + 3 * SAME_PLACE : value));
    for (const different of [
      piece(mirrored),
      piece(larger),
      piece(other, {}, dented),
      piece(other, { colors: new Uint8Array(20) }),
      piece(other, { uvs: new Float32Array(10) }),
      piece(other, { indices: Uint32Array.from([...FACES].reverse()) }),
    ])
      expect(findShares([piece(STILL), different])).toEqual([null, null]);
    expect(findShares([piece(STILL), piece(other, { material: 1 })]).every(Boolean)).toBe(true);
  });

  it('are told by how one geometry was placed, as if its vertices were compared', () => {
    const scale = fc.constantFrom(1, 0.001, 2);
    fc.assert(
      fc.property(fc.array(fc.tuple(motion, scale), { minLength: 2, maxLength: 6 }), (places) => {
        const matrices = places.map(([by, size]) => multiply(by, compose([0, 0, 0], [0, 0, 0, 1], [size, size, size])));
        const model = meshModel(
          BODY,
          FACES,
          matrices.map((matrix) => [...matrix]),
        );
        const { pieces, origins } = placeGeometry(model);
        const told = findShares(pieces, origins);
        const compared = findShares(pieces);
        expect(told.map((share) => share?.shape)).toEqual(compared.map((share) => share?.shape));
        told.forEach((share, i) => {
          const first = told.findIndex((other) => other?.shape === share?.shape);
          for (let at = 0; share && at < BODY.length; at += 3) {
            const [x, y, z] = pieces[first]!.positions.subarray(at, at + 3);
            transformPoint(share.motion, x!, y!, z!).forEach((value, axis) =>
              expect(Math.abs(value - pieces[i]!.positions[at + axis]!)).toBeLessThan(SAME_PLACE / 10),
            );
          }
        });
      }),
    );
  });

  it('are compared where a geometry was stretched or mirrored on the way to its place', () => {
    const stretched = compose([9, 0, 0], [0, 0, 0, 1], [1, 1, 1.5]);
    const mirrored = compose([3, 0, 0], [0, 0, 0, 1], [-1, 1, 1]);
    const matrices = [STILL, stretched, mirrored, compose([0, 5, 0], [0, 0, 0, 1], [1, 1, 1])];
    const { pieces, origins } = placeGeometry(
      meshModel(
        BODY,
        FACES,
        matrices.map((matrix) => [...matrix]),
      ),
    );
    expect(findShares(pieces, origins).map((share) => share?.shape)).toEqual([0, undefined, undefined, 0]);
  });

  it('are not sought in what lies on a line, or is alone', () => {
    const line = piece(STILL, {}, [0, 0, 0, 1, 0, 0, 2, 0, 0, 3, 0, 0, 4, 0, 0]);
    expect(findShares([line, line])).toEqual([null, null]);
    expect(findShares([piece(STILL)])).toEqual([null]);
    expect(findShares([])).toEqual([]);
  });

  it('of several kinds are told apart', () => {
    const tall = BODY.map((value, i) => (i % 3 === 2 ? value * 2 : value));
    const shares = findShares([piece(STILL), piece(STILL, {}, tall), piece(STILL, {}, tall), piece(STILL)]);
    expect(shares.map((share) => share!.shape)).toEqual([0, 1, 1, 0]);
  });
});
