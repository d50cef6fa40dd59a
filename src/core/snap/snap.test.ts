import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../math/mat4';
import { distance } from '../math/vec3';
import { bodyFaces } from '../mesh/body-faces';
import { box, cylinder, mapped, prism } from '../section/test-solids';
import type { TriangleMesh } from '../section/crossing';
import { alongAxis, chooseSnap, SNAP_KINDS, type SnapKind } from './choose-snap';
import { elementFeatures } from './element-features';

const featuresOf = ({ positions, indices }: TriangleMesh) => elementFeatures(positions, indices);
const rounded = (point: readonly number[]) => point.map((value) => Math.round(value * 1000) / 1000 + 0);

/** The same place rounded to a lattice of a millimetre, as published. */
const onLattice = (point: Vec3): Vec3 => point.map((value) => Math.round(value * 1024) / 1024) as Vec3;

/** A place leant over and turned with a body. */
function tilted([x, y, z]: Vec3): Vec3 {
  const [c, s] = [Math.cos(0.6), Math.sin(0.6)];
  const [u, v] = [x * c - z * s, x * s + z * c];
  return [u * c - y * s + 3, u * s + y * c - 2, v + 1];
}

describe('the features of a body', () => {
  it('of a box are its corners, edges and their middles', () => {
    const { corners, edges, middles, circles, centreLines } = featuresOf(box([0, 0, 0], [1, 2, 1.5]));
    expect(corners).toHaveLength(8);
    expect(edges).toHaveLength(12);
    expect(middles.map(rounded)).toContainEqual([0.5, 0, 0]);
    expect(circles).toHaveLength(0);
    expect(centreLines).toHaveLength(0); // it is not long
  });

  it('of a column include its axis, through the centre of its section, also of an L', () => {
    const { centreLines } = featuresOf(box([0, 0, 0], [0.3, 0.4, 3]));
    expect(centreLines).toHaveLength(1);
    expect(centreLines[0]!.map(rounded).sort((a, b) => a[2]! - b[2]!)).toEqual([[0.15, 0.2, 0], [0.15, 0.2, 3]]); // prettier-ignore
  });

  it('of a pipe are its axis within a millimetre and its circles, and no corners of its facets', () => {
    for (const facets of [12, 16, 24]) {
      const pipe = mapped(cylinder(0.05, 2, facets), (at) => onLattice(tilted(at)));
      const { centreLines, circles, corners, middles } = featuresOf(pipe);
      expect(centreLines).toHaveLength(1);
      const ends = [tilted([0, 0, 0]), tilted([0, 0, 2])];
      for (const end of ends) expect(Math.min(...centreLines[0]!.map((one) => distance(one, end)))).toBeLessThan(0.001);
      expect(circles).toHaveLength(2);
      for (const { radius } of circles) expect(Math.abs(radius - 0.05)).toBeLessThan(0.001);
      expect(corners).toHaveLength(0);
      expect(middles).toHaveLength(0);
    }
  });
});

describe('the faces of a body', () => {
  it('are found however they are triangulated', () => {
    const { positions, indices } = box([0, 0, 0], [1, 2, 3]);
    const { faces } = bodyFaces(positions, indices, 'flat');
    expect(faces.map(({ area }) => area).sort((a, b) => a - b)).toEqual([2, 2, 3, 3, 6, 6]);
    expect(faces.every(({ loops }) => loops.length === 1)).toBe(true);
  });

  it('of a round body are its ends and all around it', () => {
    const { positions, indices } = cylinder(0.5, 2, 32);
    const areas = bodyFaces(positions, indices, 'smooth').faces.map(({ area }) => area);
    const perimeter = 32 * 2 * 0.5 * Math.sin(Math.PI / 32);
    expect(Math.max(...areas)).toBeCloseTo(perimeter * 2, 5);
    expect(areas).toHaveLength(3);
  });
});

describe('what is meant by pointing', () => {
  const cube = featuresOf(box([0, 0, 0], [1, 1, 1]));
  const all = new Set<SnapKind>(SNAP_KINDS);
  /** Looking down from 10 m; a pixel is a centimetre. */
  const point = (x: number, y: number, kinds: ReadonlySet<SnapKind> = all, from: Vec3 | null = null, isSeen = true) => {
    const snap = chooseSnap(
      {
        origin: [x, y, 10],
        direction: [0, 0, -1],
        metresPerPixel: () => 0.01,
        reach: 10,
        kinds,
        from,
        surface: { point: [x, y, 1], normal: [0, 0, 1] },
      },
      [{ features: cube, isSeen: () => isSeen }],
    );
    return snap && `${snap.kind} ${rounded(snap.point).join()}`;
  };

  it('is the corner before the edge, the edge before the face', () => {
    expect(point(0.03, 0.95)).toMatch(/^corner 0,1,[01]$/);
    expect(point(0.3, 0.05)).toMatch(/^edge 0.3,0,[01]$/);
    expect(point(0.46, 0.04)).toMatch(/^middle 0.5,0,[01]$/);
    expect(point(0.3, 0.3)).toBe('face 0.3,0.3,1');
  });

  it('is only what one takes', () => {
    expect(point(0.03, 0.95, new Set<SnapKind>(['face']))).toBe('face 0.03,0.95,1');
    expect(point(0.3, 0.05, new Set<SnapKind>(['corner']))).toBeNull();
  });

  it('is only what one sees', () => {
    expect(point(0.03, 0.95, all, null, false)).toBe('face 0.03,0.95,1');
  });

  it('is square to an edge or a face where the place before is', () => {
    expect(point(0.52, 0.42, all, [0.5, 0.4, 3])).toBe('square 0.5,0.4,1');
    expect(point(0.27, 0.06, new Set<SnapKind>(['square', 'edge']), [0.25, 0.7, 1])).toMatch(/^square 0.25,0,[01]$/);
  });

  it('is the crossing of edges of two bodies that touch', () => {
    const beam = featuresOf(prism([[0.4, -1], [0.6, -1], [0.6, 2], [0.4, 2]], 1, 1.2)); // prettier-ignore
    const snap = chooseSnap(
      {
        origin: [0.42, 0.03, 10],
        direction: [0, 0, -1],
        metresPerPixel: () => 0.01,
        reach: 8,
        kinds: all,
        from: null,
        surface: null,
      },
      [cube, beam].map((features) => ({ features, isSeen: () => true })),
    );
    expect(snap!.kind).toBe('crossing');
    expect(rounded(snap!.point)).toEqual([0.4, 0, 1]);
  });

  it('lies on the line through the place before where an axis is held', () => {
    const at = alongAxis({ origin: [2, 5, 10], direction: [0, 0, -1] }, [0, 0, 0], [1, 0, 0])!;
    expect(rounded(at)).toEqual([2, 0, 0]);
    expect(alongAxis({ origin: [2, 5, 10], direction: [0, 0, -1] }, [0, 0, 0], [0, 0, 1])).toBeNull();
  });
});
