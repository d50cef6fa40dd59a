import { expect, it } from 'vitest';
import { placeGeometry, type Piece } from './element-geometry';
import { packGeometry, unpackGeometry } from './packed-geometry';
import { field, meshModel, moved } from './test-model';

const mesh = field(2, 0.5);
const geometry = placeGeometry(
  meshModel(mesh.positions, mesh.indices, [moved(0, 0, 0), moved(3, 0, 0), moved(0, 4, 1)]),
);
const [first, second, third] = geometry.pieces as [Piece, Piece, Piece];
const pieces: Piece[] = [
  first,
  { ...second, colors: Uint8Array.from({ length: 36 }, (_, i) => i), material: 2 },
  // Changed, so that its coordinates are its own.
  { ...third, positions: new Float64Array(27).fill(0.1), normals: new Int8Array(27).fill(-3) },
  { ...third, uvs: new Float32Array(18).fill(0.25), element: 7 },
];

it('comes to the other thread as it was, but for where its pieces come from', () => {
  const { origins, ...whole } = { ...geometry, pieces };
  const packed = structuredClone(packGeometry({ ...whole, origins }));
  expect(origins).not.toBeNull();
  expect(unpackGeometry(packed)).toEqual({ ...whole, origins: null });
});

it('lets pieces have in common what they had in common', () => {
  const packed = packGeometry({ ...geometry, pieces });
  const [a, b, , d] = unpackGeometry(structuredClone(packed)).pieces;
  expect(a!.indices).toBe(b!.indices);
  expect(a!.positions.buffer).toBe(d!.positions.buffer);
  // The memory that threads share is not copied on the way.
  const [c] = unpackGeometry(packed).pieces;
  c!.positions[0] = 5;
  expect(first.positions[0]).toBe(5);
});
