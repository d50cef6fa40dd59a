import type { Vec3 } from '../math/mat4';
import { dot, subtract, unit } from '../math/vec3';
import { creaseEdges } from './creases';

/** Cosine of the angle between two parts of one straight edge. */
const STRAIGHT = 0.9999;

/** What of a body's surface a point lies on. */
export type FeatureKind = 'corner' | 'middle' | 'edge' | 'face';

export interface Feature {
  kind: FeatureKind;
  /** The corner, the middle, or the nearest place of the edge; on a face the point itself. */
  point: Vec3;
  /** Ends of the edge that it lies on, or of one that meets in the corner; null on a face. */
  edge: [Vec3, Vec3] | null;
}

/**
 * The feature of a body nearest to a point on its surface. Corners win over middles, middles over edges; farther than the
 * reach from any of them a point lies on a face.
 *
 * @param edges ends of the body's real edges, as found by `realEdges`
 * @param reach metres
 */
export function featureAt(edges: readonly [Vec3, Vec3][], point: Vec3, reach: number): Feature {
  let best: Feature = { kind: 'face', point, edge: null };
  const rank = { corner: 3, middle: 2, edge: 1, face: 0 };
  let bestDistance = Infinity;
  const offer = (kind: FeatureKind, at: Vec3, edge: [Vec3, Vec3]) => {
    const away = Math.hypot(...subtract(at, point));
    if (away > reach || rank[kind] < rank[best.kind] || (kind === best.kind && away >= bestDistance)) return;
    best = { kind, point: at, edge };
    bestDistance = away;
  };
  for (const edge of edges) {
    const [a, b] = edge;
    offer('corner', a, edge);
    offer('corner', b, edge);
    offer('middle', mix(a, b, 0.5), edge);
    offer('edge', nearestOnEdge(edge, point), edge);
  }
  return best;
}

/**
 * The real edges of a body: between faces that meet at an angle, and where its surface ends. Those that go on straight
 * through vertices are one, so that their ends are corners and their middles are middles.
 *
 * @param positions three coordinates a vertex
 * @param indices three vertices a triangle
 */
export function realEdges(positions: ArrayLike<number>, indices: ArrayLike<number>): [Vec3, Vec3][] {
  const { lines } = creaseEdges(positions, indices);
  const around = new Map<number, number[]>();
  lines.forEach((vertex, end) => {
    const known = around.get(vertex);
    if (known) known.push(end >> 1);
    else around.set(vertex, [end >> 1]);
  });
  const at = (vertex: number): Vec3 => [positions[vertex * 3]!, positions[vertex * 3 + 1]!, positions[vertex * 3 + 2]!];
  const used = new Uint8Array(lines.length / 2);
  /** Goes on from an end as long as just one other line continues in the same direction. */
  const goOn = (from: number, end: number): number => {
    for (;;) {
      const meeting = around.get(end)!;
      const next = meeting.find((line) => !used[line]);
      if (meeting.length !== 2 || next === undefined) return end;
      const onward = lines[next * 2] === end ? lines[next * 2 + 1]! : lines[next * 2]!;
      if (dot(unit(subtract(at(end), at(from))), unit(subtract(at(onward), at(end)))) < STRAIGHT) return end;
      used[next] = 1;
      [from, end] = [end, onward];
    }
  };
  const edges: [Vec3, Vec3][] = [];
  for (let line = 0; line < used.length; line++) {
    if (used[line]) continue;
    used[line] = 1;
    const [a, b] = [lines[line * 2]!, lines[line * 2 + 1]!];
    const end = goOn(a, b);
    edges.push([at(goOn(b, a)), at(end)]);
  }
  return edges;
}

function nearestOnEdge([a, b]: [Vec3, Vec3], point: Vec3): Vec3 {
  const along = subtract(b, a);
  const length2 = dot(along, along);
  const share = length2 > 0 ? Math.min(1, Math.max(0, dot(subtract(point, a), along) / length2)) : 0;
  return mix(a, b, share);
}

function mix(a: Vec3, b: Vec3, share: number): Vec3 {
  return a.map((value, axis) => value + (b[axis]! - value) * share) as Vec3;
}
