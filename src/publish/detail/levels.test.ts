import { SphereGeometry } from 'three';
import { describe, expect, it } from 'vitest';
import { placeGeometry } from '../geometry/element-geometry';
import { plainSurfaces } from '../pictures/pictures';
import { smooth } from '../geometry/smooth';
import { field, meshModel, moved, SQUARE } from '../test-model';
import { buildLevels, firstLook, type DetailNode } from './levels';
import { seenFromOutside } from './seen-from-outside';
import { splitPieces } from './split-pieces';
import { SurfaceDistance } from './surface-distance';
import { surfaceDistance } from './test-distance';

const LIMITS = { triangles: 3000, drawn: 3000, size: 1000 };
const BOX = {
  positions: [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 0, 0, 1, 1, 0, 1, 1, 1, 1, 0, 1, 1],
  indices: [0, 2, 1, 0, 3, 2, 4, 5, 6, 4, 6, 7, 0, 1, 5, 0, 5, 4, 1, 2, 6, 1, 6, 5, 2, 3, 7, 2, 7, 6, 3, 0, 4, 3, 4, 7],
};
const count = (node: Pick<DetailNode, 'parts'>) => node.parts.reduce((sum, { indices }) => sum + indices.length / 3, 0);
const all = (node: DetailNode): DetailNode[] => [node, ...node.children.flatMap(all)];

function scaled(size: number, x: number, y: number, z: number): number[] {
  return [size, 0, 0, 0, 0, size, 0, 0, 0, 0, size, 0, x, y, z, 1];
}

/** A ball whose every corner is pushed in or out, so that all its faces meet at an edge. */
function rock() {
  const ball = new SphereGeometry(5, 160, 120);
  const positions = Float64Array.from(ball.getAttribute('position').array);
  for (let i = 0; i < positions.length; i += 3) {
    const [x, y, z] = [positions[i]!, positions[i + 1]!, positions[i + 2]!].map((value) => Math.round(value * 1e4));
    const push = 1 + 0.03 * Math.sin(x! * 12.9898 + y! * 78.233 + z! * 37.719);
    for (let axis = 0; axis < 3; axis++) positions[i + axis]! *= push;
  }
  return { positions, indices: ball.index!.array, uvs: undefined };
}

/** The same as a scan comes: a picture in which every triangle lies elsewhere. */
function scan() {
  const { positions, indices } = rock();
  const corners = Array.from(indices, (vertex) => [...positions.subarray(vertex * 3, vertex * 3 + 3)]).flat();
  return {
    positions: corners,
    indices: Array.from(indices, (_, i) => i),
    uvs: Float32Array.from({ length: indices.length * 2 }, (_, i) => (Math.floor(i / 6) * 0.37 + (i % 6) * 0.01) % 1),
  };
}

async function levelsOf(pieces: ReturnType<typeof placeGeometry>['pieces']) {
  const wholes = pieces.map((piece) => piece.indices.length / 3);
  return { wholes, top: await buildLevels(splitPieces(pieces, LIMITS), wholes, LIMITS) };
}

describe('levels of detail', () => {
  it('have fewer triangles the higher they are, and are off by no more than they say', async () => {
    const ball = new SphereGeometry(1, 64, 48);
    const at = Array.from({ length: 12 }, (_, i) => moved((i % 4) * 3, Math.floor(i / 4) * 3, 0));
    const { pieces } = placeGeometry(meshModel(ball.getAttribute('position').array, ball.index!.array, at));
    const { top } = await levelsOf(pieces);
    expect(top.children.length).toBeGreaterThan(1);
    for (const node of all(top)) {
      expect(count(node)).toBeLessThanOrEqual(node.children.length === 0 ? Infinity : LIMITS.triangles);
      for (const child of node.children) expect(child.error).toBeLessThanOrEqual(node.error);
      // Compared with the full surface, ball by ball; of a ball that was cut, only from the part's side.
      for (const part of node.parts) {
        const ball = pieces[part.source]!;
        const off = part.isCut ? new SurfaceDistance(ball).farthest(part) : surfaceDistance(part, ball);
        expect(off).toBeLessThanOrEqual(node.error + 1e-4);
      }
    }
    expect(new Set(top.parts.map((part) => part.element)).size).toBe(12);
  });

  it('join again what had to be cut, without a seam', async () => {
    const mesh = field(100, 1);
    const { pieces } = placeGeometry(meshModel(mesh.positions, mesh.indices, [moved(0, 0, 0)]));
    const { top } = await levelsOf(pieces);
    expect(all(top).length).toBeGreaterThan(8);
    expect(top.parts.length).toBe(1);
    expect([top.parts[0]!.isCut, count(top)]).toEqual([false, 2]);
  });

  it('leave out what is thinner than a pixel there, and say how thick it was', async () => {
    const pebbles = Array.from({ length: 2000 }, (_, i) => scaled(0.05, (i % 50) * 2, Math.floor(i / 50) * 2, 0));
    const { pieces } = placeGeometry(meshModel(BOX.positions, BOX.indices, [scaled(40, 0, 0, 1), ...pebbles]));
    const { top } = await levelsOf(pieces);
    expect(top.parts.map((part) => part.element)).toEqual([0]);
    expect(top.error).toBeCloseTo(0.05, 6);
  });
});

describe('the first look', () => {
  it('keeps what is seen from outside and leaves out what is hidden', async () => {
    const inside = Array.from({ length: 40 }, (_, i) => scaled(0.9, 1 + (i % 8), 1 + Math.floor(i / 8), 2));
    const { pieces } = placeGeometry(
      meshModel(BOX.positions, BOX.indices, [scaled(10, 0, 0, 0), ...inside, scaled(3, 11, 0, 0)]),
    );
    const surfaces = plainSurfaces([{ name: '', color: [1, 1, 1, 1] }]);
    const { top, wholes } = await levelsOf(pieces);
    const look = await firstLook(top, wholes, surfaces, 24);
    expect(look.parts.map((part) => part.element).sort((a, b) => a - b)).toEqual([0, 41]);
    expect(look.error).toBeCloseTo(0.9, 6);
    const glass = plainSurfaces([{ name: '', color: [1, 1, 1, 0.3] }]);
    expect(seenFromOutside(pieces, glass, top.box).every((pixels) => pixels > 0)).toBe(true);
  });

  it('squeezes one large mesh into its budget', async () => {
    const ball = new SphereGeometry(5, 128, 96);
    const { pieces } = placeGeometry(
      meshModel(ball.getAttribute('position').array, ball.index!.array, [moved(0, 0, 0)]),
    );
    const { top, wholes } = await levelsOf(pieces);
    const look = await firstLook(top, wholes, plainSurfaces([{ name: '', color: [1, 1, 1, 1] }]), 200);
    expect(count(look)).toBeLessThanOrEqual(200);
    expect(count(look)).toBeGreaterThan(20);
    expect(surfaceDistance(look.parts[0]!, pieces[0]!)).toBeLessThanOrEqual(look.error + 1e-4);
  });

  it('shows the shape of a broken surface and of one with seams at every corner, not a box in its place', async () => {
    for (const [name, { positions, indices, uvs }] of Object.entries({ rock: rock(), scan: scan() })) {
      const model = meshModel(positions, indices, [moved(0, 0, 0)]);
      model.geometries[0]!.uvs = uvs;
      const { pieces } = placeGeometry(model);
      const { top, wholes } = await levelsOf(pieces.map(smooth));
      const look = await firstLook(top, wholes, plainSurfaces([{ name: '', color: [1, 1, 1, 1] }]), 600);
      expect(count(look), name).toBeLessThanOrEqual(600);
      expect(count(look), name).toBeGreaterThan(100);
      // It is rough by 0.15 m and 10 m wide; the corners of a box would stand off by four metres.
      expect(look.error, name).toBeLessThan(1);
      expect(surfaceDistance(look.parts[0]!, pieces[0]!), name).toBeLessThanOrEqual(look.error + 1e-3);
    }
  });

  it('sees nothing of what has no size', () => {
    const { pieces } = placeGeometry(meshModel(SQUARE.positions, [0, 0, 0], [moved(0, 0, 0)]));
    expect([
      ...seenFromOutside(pieces, plainSurfaces([{ name: '', color: [1, 1, 1, 1] }]), [0, 0, 0, 1, 1, 0]),
    ]).toEqual([0]);
  });
});
