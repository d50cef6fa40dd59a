import type { Hatch } from '../section/hatch';
import type { Path } from '../section/path';
import type { Region } from '../section/region';

/** So many lines a region at most; closer ones would be black anyway. */
const MOST_LINES = 2000;

/**
 * The lines of a hatch within a region: `[x1, y1, x2, y2]` each, in metres. They run through the same places whatever region
 * they are in, so that neighbours of one material match.
 */
export function hatchLines({ border, holes }: Region, { angles, spacing }: Hatch): [number, number, number, number][] {
  return angles.flatMap((degrees) => {
    const angle = (degrees * Math.PI) / 180;
    const [c, s] = [Math.cos(angle), Math.sin(angle)];
    // Along the lines, and across them in steps of the spacing.
    const turned = [border, ...holes].map((path) => turn(path, c, s));
    const across = turned.flatMap((path) => [...path].filter((_, i) => i % 2 === 1));
    const [least, most] = [Math.min(...across) / spacing, Math.max(...across) / spacing];
    if (most - least > MOST_LINES) return [];
    const lines: [number, number, number, number][] = [];
    for (let step = Math.ceil(least); step <= most; step++) {
      const y = step * spacing;
      const xs = turned.flatMap((path) => crossings(path, y)).sort((a, b) => a - b);
      for (let i = 0; i + 1 < xs.length; i += 2)
        lines.push([xs[i]! * c - y * s, xs[i]! * s + y * c, xs[i + 1]! * c - y * s, xs[i + 1]! * s + y * c]);
    }
    return lines;
  });
}

function turn(path: Path, c: number, s: number): Path {
  const out = new Float64Array(path.length);
  for (let at = 0; at < path.length; at += 2) {
    out[at] = path[at]! * c + path[at + 1]! * s;
    out[at + 1] = path[at + 1]! * c - path[at]! * s;
  }
  return out;
}

/** Where a loop crosses a level; a corner on it counts as above. */
function crossings(path: Path, y: number): number[] {
  const out: number[] = [];
  for (let at = 0, last = path.length - 2; at < path.length; last = at, at += 2) {
    const [ax, ay, bx, by] = [path[last]!, path[last + 1]!, path[at]!, path[at + 1]!];
    if (ay >= y !== by >= y) out.push(ax + ((y - ay) / (by - ay)) * (bx - ax));
  }
  return out;
}
