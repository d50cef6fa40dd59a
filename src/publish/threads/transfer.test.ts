import { expect, it } from 'vitest';
import { placeGeometry, type Piece, type PlacedGeometry } from '../geometry/element-geometry';
import { handOver, takeOver } from './transfer';
import { findRepeats } from '../geometry/repeats';
import { field, meshModel, moved } from '../test-model';

const mesh = field(8, 0.5);
const VERTICES = mesh.positions.length / 3;
const geometry = placeGeometry(
  meshModel(mesh.positions, mesh.indices, [moved(0, 0, 0), moved(3, 0, 0), moved(0, 4, 1)]),
);
const [first, second, third] = geometry.pieces as [Piece, Piece, Piece];
const pieces: Piece[] = [
  first,
  { ...second, colors: Uint8Array.from({ length: 4 * VERTICES }, (_, i) => i), material: 2 },
  // Changed, so that its coordinates are its own.
  { ...third, positions: new Float64Array(3 * VERTICES).fill(0.1), normals: new Int8Array(3 * VERTICES).fill(-3) },
  { ...third, uvs: new Float32Array(2 * VERTICES).fill(0.25), element: 7 },
];

const uncut = pieces.map((piece) => ({ ...piece, isCut: false }));

it('a geometry comes to the other thread as it was, but for where its pieces come from', () => {
  const given = { geometry: { ...geometry, pieces }, width: 64 };
  expect(given.geometry.origins).not.toBeNull();
  expect(takeOver(structuredClone(handOver(given)))).toEqual({
    geometry: { ...geometry, pieces: uncut, origins: null },
    width: 64,
  });
});

it('so do the contents of a tile, cut pieces and repeated ones, and what has no pieces', () => {
  const { repeats } = findRepeats(
    Array.from({ length: 400 }, (_, i) => ({
      ...first,
      element: i,
      share: { shape: 1, motion: Float64Array.from(moved(i, 0, 0)) },
    })),
  );
  expect(repeats).toHaveLength(1);
  const content = { single: [{ ...second, isCut: true }, uncut[0]!], repeats };
  for (const given of [
    { content, box: geometry.extent },
    { part: first, allowed: 0.5 },
  ])
    expect(takeOver(structuredClone(handOver(given)))).toEqual(given);
});

it('what pieces have in common stays in common, and memory that threads share is not copied', () => {
  const there = (handed: ReturnType<typeof handOver>) =>
    (takeOver(handed) as { geometry: PlacedGeometry }).geometry.pieces;
  const handed = handOver({ geometry: { ...geometry, pieces } });
  const [a, b, , d] = there(structuredClone(handed));
  expect(a!.indices).toBe(b!.indices);
  expect(a!.positions.buffer).toBe(d!.positions.buffer);
  there(handed)[0]!.positions[0] = 5;
  expect(first.positions[0]).toBe(5);
});
