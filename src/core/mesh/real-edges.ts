import type { Vec3 } from '../math/mat4';
import { dot, subtract, unit } from '../math/vec3';
import { creaseEdges } from './creases';

/** Cosine of the angle between two parts of one straight edge. */
const STRAIGHT = 0.9999;

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
