import { BoxGeometry, CylinderGeometry, Matrix4, SphereGeometry, type BufferGeometry } from 'three';
import { describe, expect, it } from 'vitest';
import { placeGeometry, type Piece } from './element-geometry';
import { findShares } from './shares';
import { smooth, smoothAll } from './smooth';
import { meshModel, moved } from '../test-model';

/** A piece of a three.js shape, with the shape's own normals only where they are asked for. */
function pieceOf(shape: BufferGeometry, withNormals = false, matrix = moved(0, 0, 0)): Piece {
  const model = meshModel(shape.getAttribute('position').array, shape.index!.array, [matrix]);
  if (withNormals) model.geometries[0]!.normals = Float32Array.from(shape.getAttribute('normal').array);
  return placeGeometry(model).pieces[0]!;
}

/** Largest angle in degrees between a curved corner's normal and where it should point. */
function worst({ positions, normals, indices }: Piece, truth: (x: number, y: number, z: number) => number[]): number {
  let angle = 0;
  for (const vertex of indices) {
    const normal = [0, 1, 2].map((axis) => normals![vertex * 3 + axis]! / 127);
    if (normal.every((part) => part === 0)) continue;
    const due = truth(positions[vertex * 3]!, positions[vertex * 3 + 1]!, positions[vertex * 3 + 2]!);
    const dot =
      normal.reduce((sum, part, axis) => sum + part * due[axis]!, 0) / Math.hypot(...normal) / Math.hypot(...due);
    angle = Math.max(angle, (Math.acos(Math.min(1, dot)) * 180) / Math.PI);
  }
  return angle;
}

const curvedFaces = ({ normals, indices }: Piece) =>
  Array.from({ length: indices.length / 3 }, (_, face) => indices.slice(face * 3, face * 3 + 3)).filter((corners) =>
    corners.every((vertex) => normals!.subarray(vertex * 3, vertex * 3 + 3).some((part) => part !== 0)),
  ).length;

describe('curved surfaces', () => {
  it('of a sphere have normals that point away from its middle', () => {
    const sphere = smooth(pieceOf(new SphereGeometry(2, 32, 24)));
    expect(curvedFaces(sphere)).toBe(sphere.indices.length / 3);
    expect(worst(sphere, (x, y, z) => [x, y, z])).toBeLessThan(4);
  });

  it('of a pipe of twelve facets go around it, while its ends stay flat and sharp', () => {
    const pipe = smooth(pieceOf(new CylinderGeometry(0.1, 0.1, 3, 12)));
    expect(curvedFaces(pipe)).toBe(24); // of 48: twelve a side are the lids
    expect(worst(pipe, (x, _, z) => [x, 0, z])).toBeLessThan(1);
  });

  it('are none in a box or a column of eight sides', () => {
    expect(smooth(pieceOf(new BoxGeometry(1, 2, 3))).normals).toBeNull();
    expect(smooth(pieceOf(new CylinderGeometry(0.3, 0.3, 3, 8))).normals).toBeNull();
  });

  it('follow the file where it says how it is to be shaded, through turns, stretches and mirrors', () => {
    // A sphere of few facets, squeezed to half in X: only its own normals make it round.
    for (const side of [1, -1]) {
      const matrix = [0.5 * side, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
      const sphere = smooth(pieceOf(new SphereGeometry(1, 8, 6), true, matrix));
      // The normal of the ellipsoid (x/a)² + y² + z² = 1 at a point is (x/a², y, z).
      expect(worst(sphere, (x, y, z) => [x * 4, y, z])).toBeLessThan(1);
      expect(curvedFaces(sphere)).toBe(sphere.indices.length / 3);
    }
  });

  it('are not taken from normals that say nothing', () => {
    const box = pieceOf(new BoxGeometry(1, 1, 1), true);
    expect(smooth(box).normals).toBeNull(); // all of them upright on flat faces
    expect(smooth({ ...box, normals: new Int8Array(box.normals!.length) }).normals).toBeNull();
  });

  it('is found once for all of one shape, with normals that turn along', () => {
    const quarter = new Matrix4().makeRotationZ(Math.PI / 2).setPosition(7, 0, 0);
    const tilted = new Matrix4().makeRotationX(1).setPosition(0, 9, 0);
    const pieces = [new Matrix4(), quarter, tilted].map((matrix) => ({
      ...pieceOf(new CylinderGeometry(0.1, 0.1, 3, 16), false, matrix.toArray()),
      normals: null,
    }));
    const shares = findShares(pieces);
    expect(shares.every(Boolean)).toBe(true);
    smoothAll(pieces, shares).forEach((piece, i) => {
      const alone = smooth(pieces[i]!);
      const corner = (of: Piece, k: number) => [...of.normals!.slice(of.indices[k]! * 3, of.indices[k]! * 3 + 3)];
      for (let k = 0; k < alone.indices.length; k++)
        corner(piece, k).forEach((value, axis) =>
          expect(Math.abs(value - corner(alone, k)[axis]!)).toBeLessThanOrEqual(2),
        );
    });
  });
});
