import { signedArea, type Path } from './path';
import type { Plane, PlaneFrame } from './plane';

/** Triangles of one element, three numbers a vertex in metres. Outward faces turn against the clock, seen from outside. */
export interface TriangleMesh {
  positions: Float64Array | Float32Array;
  indices: Uint32Array | Uint16Array;
}

export interface Crossing {
  /** Closed, the solid on the left. */
  loops: Path[];
  /** What comes to no end, because the surface has a border. */
  open: Path[];
  /** Whether the triangles agree on which side of them is outside; otherwise a loop says only that something begins there. */
  isOriented: boolean;
}

/** Vertices so near to a plane lie on it: a thousandth of a millimetre. */
const ON_PLANE = 1e-6;
/** Ends so near to each other are one: a tenth of a millimetre, more than rounding does and less than is ever meant. */
const SAME_PLACE = 1e-4;

/**
 * The lines along which triangles cross a plane, put together to loops. A vertex on the plane counts as before it, so that
 * every triangle gives one line or none and every edge of a closed surface one end and one beginning: there are no gaps
 * where a plane goes through vertices, edges or whole faces, and of two solids that touch in the plane just the one behind it
 * is cut.
 */
export function crossTriangles(meshes: readonly TriangleMesh[], plane: Plane, frame: PlaneFrame): Crossing {
  const ends = new Ends(frame);
  for (const { positions, indices } of meshes) {
    const heights = heightsOf(positions, plane);
    for (let at = 0; at < indices.length; at += 3) {
      const [a, b, c] = [indices[at]!, indices[at + 1]!, indices[at + 2]!];
      const before = (heights[a]! >= 0 ? 1 : 0) + (heights[b]! >= 0 ? 2 : 0) + (heights[c]! >= 0 ? 4 : 0);
      if (before === 0 || before === 7) continue;
      // The line begins where the triangle's border goes behind the plane, and ends where it comes out before it.
      const isDown = (from: number, to: number) => heights[from]! >= 0 && heights[to]! < 0;
      const down = isDown(a, b) ? [a, b] : isDown(b, c) ? [b, c] : [c, a];
      const isUp = (from: number, to: number) => heights[from]! < 0 && heights[to]! >= 0;
      const up = isUp(a, b) ? [a, b] : isUp(b, c) ? [b, c] : [c, a];
      ends.addLine(
        ends.onEdge(positions, heights, down[0]!, down[1]!),
        ends.onEdge(positions, heights, up[0]!, up[1]!),
      );
    }
  }
  return ends.join();
}

function heightsOf(positions: Float64Array | Float32Array, { normal: [nx, ny, nz], offset }: Plane): Float64Array {
  const out = new Float64Array(positions.length / 3);
  for (let vertex = 0, at = 0; vertex < out.length; vertex++, at += 3) {
    const height = positions[at]! * nx + positions[at + 1]! * ny + positions[at + 2]! * nz - offset;
    out[vertex] = Math.abs(height) < ON_PLANE ? 0 : height;
  }
  return out;
}

/** The ends of all lines: places where edges cross the plane, each once however many triangles meet there. */
class Ends {
  private readonly vertices = new Map<string, number>();
  private readonly edges = new Map<number, number>();
  private readonly places: [number, number][] = [];
  private readonly lines: { from: number; to: number }[] = [];

  constructor(private readonly frame: PlaneFrame) {}

  /** Where an edge crosses the plane: the same number for the same edge, whichever way and with whichever vertices. */
  onEdge(positions: Float64Array | Float32Array, heights: Float64Array, a: number, b: number): number {
    const [one, other] = [this.vertex(positions, a), this.vertex(positions, b)];
    const key = Math.min(one, other) * 0x4000000 + Math.max(one, other);
    const known = this.edges.get(key);
    if (known !== undefined) return known;
    const share = heights[a]! / (heights[a]! - heights[b]!);
    const { origin, x, y } = this.frame;
    let [u, v] = [0, 0];
    for (let axis = 0; axis < 3; axis++) {
      const [from, to] = [positions[a * 3 + axis]!, positions[b * 3 + axis]!];
      const own = from + (to - from) * share - origin[axis]!;
      u += own * x[axis]!;
      v += own * y[axis]!;
    }
    this.edges.set(key, this.places.length);
    return this.places.push([u, v]) - 1;
  }

  addLine(from: number, to: number): void {
    if (from !== to) this.lines.push({ from, to });
  }

  join(): Crossing {
    const oriented = this.crossing(chainLines(this.lines), true);
    if (oriented.open.length === 0 && !isHollow(oriented.loops)) return oriented;
    // Faces may be turned this way and that, or lie twice in the file, once to each side.
    const loose = this.crossing(chainAnyWay(this.lines), false);
    return loose.open.length < oriented.open.length || (loose.open.length === 0 && isHollow(oriented.loops))
      ? loose
      : oriented;
  }

  private crossing(chains: number[][], isOriented: boolean): Crossing {
    const crossing: Crossing = { loops: [], open: [], isOriented };
    const open: number[][] = [];
    for (const chain of chains) {
      if (chain[0] === chain.at(-1)) this.addLoop(crossing, chain.slice(0, -1));
      else open.push(chain);
    }
    for (const chain of joinNear(open, this.places)) {
      const [first, last] = [this.places[chain[0]!]!, this.places[chain.at(-1)!]!];
      if (chain.length > 2 && distance(first, last) <= SAME_PLACE) this.addLoop(crossing, chain.slice(0, -1));
      else this.addOpen(crossing, chain);
    }
    return crossing;
  }

  private addLoop(crossing: Crossing, chain: number[]): void {
    const path = this.path(chain, true);
    if (path.length >= 6) crossing.loops.push(path);
  }

  private addOpen(crossing: Crossing, chain: number[]): void {
    const path = this.path(chain, false);
    if (path.length >= 4) crossing.open.push(path);
  }

  /** The corners of a chain, without those that repeat the last or lie straight between their neighbours. */
  private path(chain: number[], isLoop: boolean): Path {
    const corners = chain.map((end) => this.places[end]!);
    const apart = corners.filter((at, i) => {
      const last = i > 0 ? corners[i - 1]! : isLoop ? corners.at(-1)! : null;
      return !last || distance(last, at) > ON_PLANE;
    });
    const kept = apart.filter((at, i) => {
      if (!isLoop && (i === 0 || i === apart.length - 1)) return true;
      const before = apart[(i + apart.length - 1) % apart.length]!;
      return !isStraight(before, at, apart[(i + 1) % apart.length]!);
    });
    return Float64Array.from(kept.flat());
  }

  private vertex(positions: Float64Array | Float32Array, index: number): number {
    const at = index * 3;
    const micrometres = (axis: number) => Math.round(positions[at + axis]! / ON_PLANE);
    const key = `${micrometres(0)},${micrometres(1)},${micrometres(2)}`;
    const known = this.vertices.get(key);
    if (known !== undefined) return known;
    this.vertices.set(key, this.vertices.size);
    return this.vertices.size - 1;
  }
}

/** Lines that follow each other as chains of ends; a closed one ends where it began. */
function chainLines(lines: readonly { from: number; to: number }[]): number[][] {
  const leaving = new Map<number, number[]>();
  const arriving = new Map<number, number>();
  for (const { from, to } of lines) {
    const others = leaving.get(from);
    if (others) others.push(to);
    else leaving.set(from, [to]);
    arriving.set(to, (arriving.get(to) ?? 0) + 1);
  }
  const chains: number[][] = [];
  const follow = (start: number) => {
    const chain = [start];
    for (let next = leaving.get(start)?.pop(); next !== undefined; next = leaving.get(next)?.pop()) {
      chain.push(next);
      if (next === start) break;
    }
    if (chain.length > 1) chains.push(chain);
  };
  // Those with a loose beginning first, so that none is begun in its middle.
  for (const [end, others] of leaving)
    for (let loose = others.length - (arriving.get(end) ?? 0); loose > 0; loose--) follow(end);
  for (const [end, others] of leaving) while (others.length > 0) follow(end);
  return chains;
}

/** Lines as chains of ends whichever way each was meant, lines that lie twice taken once. */
function chainAnyWay(lines: readonly { from: number; to: number }[]): number[][] {
  const others = new Map<number, Set<number>>();
  const link = (from: number, to: number) => others.set(from, (others.get(from) ?? new Set()).add(to));
  for (const { from, to } of lines) {
    link(from, to);
    link(to, from);
  }
  const chains: number[][] = [];
  const follow = (start: number) => {
    const chain = [start];
    for (let at = start; ;) {
      const [next] = others.get(at)!;
      if (next === undefined) break;
      others.get(at)!.delete(next);
      others.get(next)!.delete(at);
      chain.push(next);
      if (next === start) break;
      at = next;
    }
    if (chain.length > 1) chains.push(chain);
  };
  for (const [end, own] of others) if (own.size % 2 === 1) follow(end);
  for (const [end, own] of others) while (own.size > 0) follow(end);
  return chains;
}

/** Whether loops take away as much as they enclose: each face lies twice, once to each side. */
function isHollow(loops: readonly Path[]): boolean {
  const areas = loops.map(signedArea);
  const whole = areas.reduce((sum, area) => sum + Math.abs(area), 0);
  return whole > 0 && Math.abs(areas.reduce((sum, area) => sum + area, 0)) < 1e-6 * whole;
}

/** Chains whose ends lie as good as in one place, put together; they keep their direction. */
function joinNear(chains: number[][], places: readonly [number, number][]): number[][] {
  const waiting = [...chains];
  const joined: number[][] = [];
  for (let chain = waiting.pop(); chain; chain = waiting.pop()) {
    for (;;) {
      const end = places[chain.at(-1)!]!;
      if (chain.length > 2 && distance(end, places[chain[0]!]!) <= SAME_PLACE) break;
      const next: number = nearest(waiting, (other) => distance(places[other[0]!]!, end));
      if (next >= 0) {
        chain = [...chain, ...waiting.splice(next, 1)[0]!];
        continue;
      }
      const begin = places[chain[0]!]!;
      const last: number = nearest(waiting, (other) => distance(places[other.at(-1)!]!, begin));
      if (last < 0) break;
      chain = [...waiting.splice(last, 1)[0]!, ...chain];
    }
    joined.push(chain);
  }
  return joined;
}

function nearest(chains: readonly number[][], far: (chain: number[]) => number): number {
  let [best, least] = [-1, SAME_PLACE];
  chains.forEach((chain, i) => {
    const own = far(chain);
    if (own <= least) [best, least] = [i, own];
  });
  return best;
}

function distance(a: readonly [number, number], b: readonly [number, number]): number {
  return Math.hypot(a[0] - b[0], a[1] - b[1]);
}

/** Whether a corner lies between two others, no further off their line than a vertex may lie off a plane. */
function isStraight(a: [number, number], b: [number, number], c: [number, number]): boolean {
  const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], c[0] - b[0], c[1] - b[1]];
  const turn = ux * vy - uy * vx;
  return Math.abs(turn) <= ON_PLANE * Math.hypot(c[0] - a[0], c[1] - a[1]) && ux * vx + uy * vy >= 0;
}
