import { SphereGeometry } from 'three';
import { mergeVertices } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { expect, it } from 'vitest';
import { splitByNormals } from './derivable-normals';
import type { TileMesh } from './weld';

/** A ball of 400 steps with the normals of an ellipsoid that is `squeezed` so many times flatter than it is. */
function ball(squeezed: number, texture = -1): TileMesh {
  const shape = mergeVertices(new SphereGeometry(1, 24, 18).deleteAttribute('normal').deleteAttribute('uv'));
  const places = [...shape.getAttribute('position').array];
  const count = places.length / 3;
  const normals = new Int8Array(places.length);
  for (let at = 0; at < places.length; at += 3) {
    const [x, y, z] = [places[at]!, places[at + 1]! * squeezed, places[at + 2]!];
    const scale = 127 / Math.hypot(x, y, z);
    normals.set(
      [x, y, z].map((part) => Math.round(part * scale)),
      at,
    );
  }
  return {
    mode: 'solid',
    curved: true,
    texture,
    isCut: false,
    positions: Uint16Array.from(places, (place) => Math.round(place * 200 + 200)),
    features: new Uint32Array(count).fill(3),
    colors: new Uint16Array(count * 4).fill(65535),
    normals,
    uvs: texture >= 0 ? new Float32Array(count * 2) : null,
    indices: Uint32Array.from(shape.index!.array),
  };
}

/** Two meshes as one of which nothing hangs together with the other. */
function beside(a: TileMesh, b: TileMesh): TileMesh {
  const first = a.positions.length / 3;
  return {
    ...a,
    positions: Uint16Array.from([...a.positions, ...b.positions.map((step) => step + 1000)]),
    features: Uint32Array.from([...a.features, ...b.features.map(() => 4)]),
    colors: Uint16Array.from([...a.colors, ...b.colors]),
    normals: Int8Array.from([...a.normals!, ...b.normals!]),
    indices: Uint32Array.from([...a.indices, ...b.indices.map((index) => index + first)]),
  };
}

it('sends no normals for what follows from the shape, and keeps those that do not', () => {
  const [round, squeezed] = [ball(1), ball(3)];
  const parts = splitByNormals(beside(round, squeezed));
  expect(parts.map(({ curved, normals, indices }) => [curved, normals !== null, indices.length])).toEqual([
    [true, false, round.indices.length],
    [true, true, squeezed.indices.length],
  ]);
  expect(parts.map(({ features }) => [...new Set(features)])).toEqual([[3], [4]]);
  // The parts show the triangles that were there, with their normals.
  const corner = ({ positions, indices }: TileMesh, i: number) => [
    ...positions.subarray(indices[i]! * 3, indices[i]! * 3 + 3),
  ];
  const normal = ({ normals, indices }: TileMesh, i: number) => [
    ...normals!.subarray(indices[i]! * 3, indices[i]! * 3 + 3),
  ];
  for (let i = 0; i < round.indices.length; i++) {
    expect(corner(parts[0]!, i)).toEqual(corner(round, i));
    expect(corner(parts[1]!, i)).toEqual(corner(squeezed, i).map((step) => step + 1000));
    expect(normal(parts[1]!, i)).toEqual(normal(squeezed, i));
  }
});

it('keeps a facet with corners of its own with the surface that it is part of', () => {
  const round = ball(3);
  const facet = [...round.indices.subarray(300, 303)];
  const count = round.features.length;
  const extended = <T extends number[]>(from: ArrayLike<number>, width: number): T =>
    [...Array.from(from), ...facet.flatMap((v) => Array.from({ length: width }, (_, c) => from[v * width + c]!))] as T;
  const loose: TileMesh = {
    ...round,
    positions: Uint16Array.from(extended(round.positions, 3)),
    features: Uint32Array.from(extended(round.features, 1)),
    colors: Uint16Array.from(extended(round.colors, 4)),
    normals: Int8Array.from(extended(round.normals!, 3)),
    indices: round.indices.map((vertex, i) => (i >= 300 && i < 303 ? count + i - 300 : vertex)),
  };
  // Its three normals are those of its plane, which follow from its shape.
  const at = (v: number) => [0, 1, 2].map((axis) => loose.positions[v * 3 + axis]!);
  const [a, b, c] = [count, count + 1, count + 2].map(at) as [number[], number[], number[]];
  const [u, v] = [b.map((part, i) => part - a[i]!), c.map((part, i) => part - a[i]!)];
  const n = [1, 2, 0].map((i) => u[i]! * v[(i + 1) % 3]! - u[(i + 1) % 3]! * v[i]!);
  for (let corner = 0; corner < 3; corner++)
    loose.normals!.set(
      n.map((part) => Math.round((127 * part) / Math.hypot(...n))),
      (count + corner) * 3,
    );
  const parts = splitByNormals(loose);
  expect(parts.map(({ normals, indices }) => [normals !== null, indices.length])).toEqual([
    [true, loose.indices.length],
  ]);
});

it('leaves what is flat or shows a picture as it is', () => {
  const flat = { ...ball(1), curved: false, normals: null };
  expect(splitByNormals(flat)).toEqual([flat]);
  const picture = ball(1, 0);
  expect(splitByNormals(picture)).toEqual([picture]);
});
