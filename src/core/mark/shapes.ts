import { getStroke } from 'perfect-freehand';
import { PEN_WIDTHS, type Mark } from './marks';

/** A shape as path data of SVG, which canvas, PDF and SVG draw alike. */
export interface MarkShape {
  path: string;
  /** Whether it is filled; else it is a line of the pen's width. */
  isFilled: boolean;
}

/** Width of the arcs of a cloud, in pens and in parts of half the picture at least. */
const ARC_PENS = 5;
const LEAST_ARC = 0.035;
/** Of an arrow's head: how long in pens, half of its angle, and at most which part of the arrow. */
const HEAD_PENS = 5;
const HEAD_ANGLE = 0.44;
const MOST_HEAD = 0.5;

/**
 * The shape of a mark over a view; an empty path for text.
 *
 * @param half half the height of the picture, pixels @param middle of the picture, pixels
 */
export function markShape(
  { kind, points, pressures, pen }: Mark,
  half: number,
  middle: readonly [number, number],
): MarkShape {
  const at = (i: number) => [middle[0] + points[2 * i]! * half, middle[1] - points[2 * i + 1]! * half] as const;
  const width = PEN_WIDTHS[pen] * half;
  if (kind === 'free') {
    const hasPressure = pressures.length > 0;
    const outline = getStroke(
      Array.from({ length: points.length / 2 }, (_, i) => [...at(i), pressures[i] ?? 0.5]),
      {
        size: width * 1.6,
        thinning: hasPressure ? 0.6 : 0.25,
        smoothing: 0.5,
        streamline: 0.4,
        simulatePressure: !hasPressure,
        last: true,
      },
    );
    return { path: smoothed(outline), isFilled: true };
  }
  if (kind === 'text' || kind === 'surface') return { path: '', isFilled: false };
  const [[x0, y0], [x1, y1]] = [at(0), at(1)];
  if (kind === 'arrow') return { path: arrow(x0, y0, x1, y1, width), isFilled: false };
  const [left, right, top, bottom] = [Math.min(x0, x1), Math.max(x0, x1), Math.min(y0, y1), Math.max(y0, y1)];
  if (kind === 'rectangle')
    return { path: `M${n(left)} ${n(top)}H${n(right)}V${n(bottom)}H${n(left)}Z`, isFilled: false };
  return { path: cloud(left, top, right, bottom, Math.max(width * ARC_PENS, LEAST_ARC * half)), isFilled: false };
}

function arrow(x0: number, y0: number, x1: number, y1: number, width: number): string {
  const length = Math.hypot(x1 - x0, y1 - y0);
  if (length === 0) return '';
  const head = Math.min(width * HEAD_PENS, length * MOST_HEAD);
  const back = Math.atan2(y0 - y1, x0 - x1);
  const side = (turn: number) => `${n(x1 + head * Math.cos(back + turn))} ${n(y1 + head * Math.sin(back + turn))}`;
  return `M${n(x0)} ${n(y0)}L${n(x1)} ${n(y1)}M${side(HEAD_ANGLE)}L${n(x1)} ${n(y1)}L${side(-HEAD_ANGLE)}`;
}

/** A revision cloud: arcs that bulge outwards, clockwise about a rectangle. */
function cloud(left: number, top: number, right: number, bottom: number, arc: number): string {
  const corners = [
    [left, top],
    [right, top],
    [right, bottom],
    [left, bottom],
  ] as const;
  let path = `M${n(left)} ${n(top)}`;
  corners.forEach(([x, y], i) => {
    const [nx, ny] = corners[(i + 1) % 4]!;
    const length = Math.hypot(nx - x, ny - y);
    const count = Math.max(1, Math.round(length / arc));
    const radius = n((length / count) * 0.56);
    for (let step = 1; step <= count; step++) {
      const share = step / count;
      path += `A${radius} ${radius} 0 0 1 ${n(x + (nx - x) * share)} ${n(y + (ny - y) * share)}`;
    }
  });
  return `${path}Z`;
}

/** A closed curve through the middles of an outline's sides. */
function smoothed(outline: readonly (readonly number[])[]): string {
  if (outline.length < 3) return '';
  const middle = (i: number) => {
    const [a, b] = [outline[i]!, outline[(i + 1) % outline.length]!];
    return `${n((a[0]! + b[0]!) / 2)} ${n((a[1]! + b[1]!) / 2)}`;
  };
  let path = `M${middle(outline.length - 1)}`;
  outline.forEach(([x, y], i) => (path += `Q${n(x!)} ${n(y!)} ${middle(i)}`));
  return `${path}Z`;
}

function n(value: number): number {
  return Math.round(value * 100) / 100;
}
