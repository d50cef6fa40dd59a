import { IcosahedronGeometry, SphereGeometry, type BufferGeometry } from 'three';
import { mergeVertices } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { describe, expect, it } from 'vitest';
import { vertexNormals } from './vertex-normals';

const CUBE = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1, 1, 0, 1, 1, 1, 1, 0, 1, 1];
const SIDES = [
  [0, 3, 2, 1],
  [4, 5, 6, 7],
  [0, 1, 5, 4],
  [1, 2, 6, 5],
  [2, 3, 7, 6],
  [3, 0, 4, 7],
];

/** Largest angle in degrees to the direction from the origin. */
function worst(geometry: BufferGeometry): number {
  const positions = geometry.getAttribute('position').array;
  const normals = vertexNormals(positions, geometry.index!.array);
  let angle = 0;
  for (let at = 0; at < normals.length; at += 3) {
    const dot = [0, 1, 2].reduce((sum, axis) => sum + normals[at + axis]! * positions[at + axis]!, 0);
    const lengths = Math.hypot(...normals.subarray(at, at + 3)) * Math.hypot(...positions.slice(at, at + 3));
    angle = Math.max(angle, Math.acos(Math.min(1, dot / lengths)));
  }
  return (angle * 180) / Math.PI;
}

const welded = (geometry: BufferGeometry) => mergeVertices(geometry.deleteAttribute('normal').deleteAttribute('uv'));

describe('normals of a shape', () => {
  it('lean the same way at a corner of a cube, whichever diagonal its sides are divided by', () => {
    for (const turn of [0, 1]) {
      const indices = SIDES.flatMap((side) => {
        const [a, b, c, d] = [0, 1, 2, 3].map((i) => side[(i + turn) % 4]!);
        return [a!, b!, c!, a!, c!, d!];
      });
      const normals = vertexNormals(CUBE, indices);
      CUBE.forEach((place, i) => expect(normals[i]).toBe((place === 0 ? -1 : 1) * Math.round(127 / Math.sqrt(3))));
    }
  });

  it('point away from the middle of a ball, evenly divided or not', () => {
    expect(worst(welded(new IcosahedronGeometry(3, 4)))).toBeLessThan(2);
    expect(worst(welded(new SphereGeometry(3, 24, 18)))).toBeLessThan(4);
  });

  it('are zeros where nothing has an area', () => {
    expect([...vertexNormals([0, 0, 0, 1, 0, 0, 2, 0, 0], [0, 1, 2])]).toEqual(new Array(9).fill(0));
  });
});
