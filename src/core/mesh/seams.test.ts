import { describe, expect, it } from 'vitest';
import { creaseEdges } from './creases';
import { findSeams, type SeamMesh } from './seams';

type Point = [number, number, number];

/** Boxes in one mesh, an element each, with their own vertices. */
function boxes(
  list: { from: Point; to: Point; look?: number; kind?: number }[],
  turn = 0,
): SeamMesh & { indices: number[] } {
  const mesh = { positions: [] as number[], indices: [] as number[], elements: [] as number[], looks: [] as number[] };
  const faces = [
    0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5,
  ];
  list.forEach(({ from, to, look = 7 }, element) => {
    for (const corner of faces) mesh.indices.push(element * 8 + corner);
    for (let corner = 0; corner < 8; corner++) {
      const [x, y, z] = [0, 1, 2].map((axis) => (corner & (1 << axis) ? to : from)[axis]!) as Point;
      mesh.positions.push(x * Math.cos(turn) - y * Math.sin(turn), x * Math.sin(turn) + y * Math.cos(turn), z);
      mesh.elements.push(element);
      mesh.looks.push(look);
    }
  });
  return { ...mesh, kinds: list.map(({ kind = 1 }) => kind) };
}

/** Lengths of the lines that are always drawn and of those that are seams, by element. */
function lengths(mesh: ReturnType<typeof boxes>) {
  const creases = creaseEdges(mesh.positions, mesh.indices, { groups: mesh.elements });
  const { vertices, elements, beside } = findSeams(mesh, creases);
  const sums = Array.from(mesh.kinds, () => ({ drawn: 0, seam: 0 }));
  for (let line = 0; line < beside.length; line++) {
    const [a, b] = [vertices[line * 2]! * 3, vertices[line * 2 + 1]! * 3];
    const length = Math.hypot(...[0, 1, 2].map((axis) => mesh.positions[b + axis]! - mesh.positions[a + axis]!));
    const sum = sums[elements[line]!]!;
    if (beside[line]! < 0) sum.drawn += length;
    else {
      sum.seam += length;
      expect(beside[line]).not.toBe(elements[line]);
    }
  }
  return sums.map(({ drawn, seam }) => [Math.round(drawn * 1e6) / 1e6, Math.round(seam * 1e6) / 1e6]);
}

const WALL: { from: Point; to: Point } = { from: [0, 0, 0], to: [4, 1, 3] };

describe('seams', () => {
  it('go all around where two walls of one size stand end to end', () => {
    // Of each wall, the ring of 1 + 3 + 1 + 3 metres at the joint; its other edges measure 8 + 16 metres.
    expect(lengths(boxes([WALL, { from: [4, 0, 0], to: [9, 1, 3] }]))).toEqual([
      [24, 8],
      [28, 8],
    ]);
  });

  it('end where the smaller neighbour ends', () => {
    // The second is 5 m high: both sides and the bottom run on, the first one's upper edge stands before a face.
    expect(lengths(boxes([WALL, { from: [4, 0, 0], to: [9, 1, 5] }]))).toEqual([
      [25, 7],
      [37, 7],
    ]);
    // The second is thicker on one side: only one side, and the bottom and top as far as they go.
    expect(lengths(boxes([WALL, { from: [4, 0, 0], to: [9, 2, 3] }]))).toEqual([
      [27, 5],
      [35, 5],
    ]);
  });

  it('lie between one above the other, along a whole wall and parts of it', () => {
    const two = [
      { from: [0, 0, 3], to: [1, 1, 6] },
      { from: [1, 0, 3], to: [4, 1, 6] },
    ] as { from: Point; to: Point }[];
    const [below, ...above] = lengths(boxes([WALL, ...two]));
    expect(below).toEqual([22, 10]); // its upper ring of 4 + 1 + 4 + 1
    // The lower ring and the joint with the other, without counting the edges where three meet twice.
    expect(above[0]![0]! + above[0]![1]!).toBe(20);
    expect(above[1]![0]! + above[1]![1]!).toBe(28);
  });

  it('are none at a corner, between other looks or kinds, or where edges are always drawn', () => {
    const none = [
      [32, 0],
      [36, 0],
    ];
    const neighbour: { from: Point; to: Point } = { from: [4, 0, 0], to: [9, 1, 3] };
    expect(lengths(boxes([WALL, { ...neighbour, look: 8 }]))).toEqual(none);
    expect(lengths(boxes([WALL, { ...neighbour, kind: 2 }]))).toEqual(none);
    expect(
      lengths(
        boxes([
          { ...WALL, kind: 0 },
          { ...neighbour, kind: 0 },
        ]),
      ),
    ).toEqual(none);
    // A wall that stands before the middle of another one.
    expect(lengths(boxes([WALL, { from: [1.5, 1, 1], to: [2.5, 5, 2] }])).map(([, seam]) => seam)).toEqual([0, 0]);
  });

  it('are found on walls that stand askew, where the edges are the same', () => {
    expect(lengths(boxes([WALL, { from: [4, 0, 0], to: [9, 1, 3] }], 0.5))).toEqual([
      [24, 8],
      [28, 8],
    ]);
  });
});
