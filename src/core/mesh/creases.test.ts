import { describe, expect, it } from 'vitest';
import { creaseEdges } from './creases';

/** A unit cube with welded corners, two triangles a side. */
const CUBE = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1, 1, 0, 1, 1, 1, 1, 0, 1, 1];
const CUBE_FACES = [
  0, 2, 1, 0, 3, 2, 4, 5, 6, 4, 6, 7, 0, 1, 5, 0, 5, 4, 1, 2, 6, 1, 6, 5, 2, 3, 7, 2, 7, 6, 3, 0, 4, 3, 4, 7,
];

describe('crease edges', () => {
  it('draws the twelve edges of a cube and none of its diagonals', () => {
    const { lines } = creaseEdges(CUBE, CUBE_FACES);
    expect(lines.length / 2).toBe(12);
    for (let i = 0; i < lines.length; i += 2) {
      const [a, b] = [lines[i]! * 3, lines[i + 1]! * 3];
      expect(Math.hypot(CUBE[a]! - CUBE[b]!, CUBE[a + 1]! - CUBE[b + 1]!, CUBE[a + 2]! - CUBE[b + 2]!)).toBe(1);
    }
  });

  it('draws the border of a flat sheet however finely it is divided', () => {
    const positions: number[] = [];
    const indices: number[] = [];
    const n = 4;
    for (let y = 0; y <= n; y++) for (let x = 0; x <= n; x++) positions.push(x, y, 0);
    for (let y = 0; y < n; y++)
      for (let x = 0; x < n; x++) {
        const a = y * (n + 1) + x;
        indices.push(a, a + 1, a + n + 2, a, a + n + 2, a + n + 1);
      }
    expect(creaseEdges(positions, indices).lines.length / 2).toBe(4 * n);
  });

  it('takes a pipe of sixteen facets as smooth and one of eight as edged', () => {
    const pipe = (sides: number) => {
      const positions: number[] = [];
      const indices: number[] = [];
      for (let i = 0; i < sides; i++) {
        const angle = (i / sides) * 2 * Math.PI;
        positions.push(Math.cos(angle), Math.sin(angle), 0, Math.cos(angle), Math.sin(angle), 5);
        const [a, b] = [i * 2, ((i + 1) % sides) * 2];
        indices.push(a, b, b + 1, a, b + 1, a + 1);
      }
      return creaseEdges(positions, indices).lines.length / 2;
    };
    expect(pipe(16)).toBe(32); // only the two open rims
    expect(pipe(8)).toBe(16 + 8);
  });

  it('passes over triangles without area', () => {
    expect(creaseEdges([0, 0, 0, 1, 0, 0, 2, 0, 0], [0, 1, 2]).lines.length).toBe(0);
  });
});
