import { SphereGeometry } from 'three';
import { describe, expect, it } from 'vitest';
import { multiply } from '@/core/math/mat4';
import { placeGeometry } from '../geometry/element-geometry';
import { findShares } from '../geometry/shares';
import { smoothAll } from '../geometry/smooth';
import { meshModel, moved } from '../test-model';
import { Coarsener } from './coarsen';
import { splitPieces, type DetailPart } from './split-pieces';
import { surfaceDistance } from './test-distance';

const TURN = Math.PI / 5;
const turned = Float64Array.of(
  ...[Math.cos(TURN), Math.sin(TURN), 0, 0],
  ...[-Math.sin(TURN), Math.cos(TURN), 0, 0],
  ...[0, 0, 1, 0, 0, 0, 0, 1],
);

/** Balls of a metre that stand apart, one of them turned, and a smaller one; all with what they share. */
function balls() {
  const ball = new SphereGeometry(1, 32, 24);
  const half = Float64Array.of(0.5, 0, 0, 0, 0, 0.5, 0, 0, 0, 0, 0.5, 0, 9, 9, 9, 1);
  const places = [moved(0, 0, 0), [...multiply(moved(5, 1, 2), turned)], moved(-4, 3, 0), [...half]];
  const { pieces } = placeGeometry(meshModel(ball.getAttribute('position').array, ball.index!.array, places));
  const shares = findShares(pieces);
  const tree = splitPieces(smoothAll(pieces, shares), { triangles: 1e6, drawn: 1e6, size: 1e6 }, shares);
  if (!('parts' in tree)) throw new Error('a few balls fit into one tile');
  return { pieces, parts: tree.parts.toSorted((a, b) => a.source - b.source) };
}

describe('coarser parts', () => {
  it('of one shape have the same triangles, each in its place, and are off by no more than they say', async () => {
    const { pieces, parts } = balls();
    const { parts: coarse, error } = await new Coarsener().coarsen(parts, 0.05, 0);
    expect(coarse).toHaveLength(4);
    const [first, second, third, small] = coarse as [DetailPart, DetailPart, DetailPart, DetailPart];
    expect(first.indices.length).toBeLessThan(pieces[0]!.indices.length / 2);
    for (const same of [second, third]) {
      expect(same.indices).toEqual(first.indices);
      expect(same.share!.shape).toBe(first.share!.shape);
    }
    expect(small.share).toBeNull();
    for (const part of coarse) {
      expect(part.element).toBe(pieces[part.source]!.element);
      expect(surfaceDistance(part, pieces[part.source]!)).toBeLessThanOrEqual(part.error + 1e-4);
      expect(part.error).toBeLessThanOrEqual(error);
    }
    // The normals turned along: they point away from the middle of each ball.
    const middle = [5, 1, 2];
    second.normals!.forEach((_, i) => {
      const at = Math.floor(i / 3) * 3;
      const out = [0, 1, 2].map((axis) => second.positions[at + axis]! - middle[axis]!);
      const dot = out.reduce((sum, value, axis) => sum + value * second.normals![at + axis]!, 0);
      expect(dot / 127 / Math.hypot(...out)).toBeGreaterThan(0.95);
    });
  });

  it('go on from what they became: the next step is shared as well', async () => {
    const coarsener = new Coarsener();
    const once = await coarsener.coarsen(balls().parts, 0.02, 0);
    const twice = await coarsener.coarsen(once.parts, 0.2, once.error);
    const [first, second] = twice.parts;
    expect(second!.indices).toEqual(first!.indices);
    expect(first!.indices.length).toBeLessThan(once.parts[0]!.indices.length);
    expect(first!.share!.shape).not.toBe(once.parts[0]!.share!.shape);
    expect(twice.error).toBeGreaterThanOrEqual(once.error);
  });

  it('that are thinner than the allowed error are left out, and counted with their thickness', async () => {
    const { parts, error } = await new Coarsener().coarsen(balls().parts, 1.5, 0);
    expect(parts.map(({ source }) => source)).toEqual([0, 1, 2]);
    expect(error).toBeGreaterThanOrEqual(0.99); // the small ball is a metre thick
  });
});
