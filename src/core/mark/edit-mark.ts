import { MOST_MARK_POINTS, type Mark } from './marks';

/** A mark with all of its points moved. Parts of half the picture; not for those on surfaces. */
export function movedMark(mark: Mark, right: number, up: number): Mark {
  return { ...mark, points: mark.points.map((value, i) => rounded(value + (i % 2 === 0 ? right : up))) };
}

/** A mark made larger or smaller about its middle; not one on surfaces. */
export function scaledMark(mark: Mark, by: number): Mark {
  const middleOf = (from: number) => {
    const own = mark.points.filter((_, i) => i % 2 === from);
    return (Math.min(...own) + Math.max(...own)) / 2;
  };
  const middle = [middleOf(0), middleOf(1)] as const;
  return { ...mark, points: mark.points.map((value, i) => rounded(middle[i % 2]! + (value - middle[i % 2]!) * by)) };
}

/** The same with one point put elsewhere. */
export function reshapedMark(mark: Mark, point: number, [right, up]: readonly [number, number]): Mark {
  const points = [...mark.points];
  points.splice(point * 2, 2, rounded(right), rounded(up));
  return { ...mark, points };
}

/** A mark that is being drawn, with one more point; of too many, every second one goes. */
export function grownMark(mark: Mark, point: readonly number[], pressure: number | null): Mark {
  const size = point.length;
  const grown: Mark = {
    ...mark,
    points: [...mark.points, ...point.map(rounded)],
    pressures: pressure === null ? [] : [...mark.pressures, Math.round(pressure * 100) / 100],
  };
  if (grown.points.length / size < MOST_MARK_POINTS) return grown;
  const last = grown.points.length / size - 1;
  const isKept = (i: number) => i % 2 === 0 || i === last;
  return {
    ...grown,
    points: grown.points.filter((_, i) => isKept(Math.floor(i / size))),
    pressures: grown.pressures.filter((_, i) => isKept(i)),
  };
}

/** The points at which a mark can be taken hold of: its two ends, or none. */
export function handlesOf({ kind, points }: Mark): [number, number][] {
  if (kind === 'free' || kind === 'surface' || kind === 'text') return [];
  return [
    [points[0]!, points[1]!],
    [points[2]!, points[3]!],
  ];
}

/** How far a place is from what a mark draws, in parts of half the picture; Infinity for those on surfaces. */
export function distanceToMark(mark: Mark, x: number, y: number, textWidth: number, textHeight: number): number {
  const { kind, points } = mark;
  if (kind === 'surface') return Infinity;
  const at = (i: number) => [points[2 * i]!, points[2 * i + 1]!] as const;
  if (kind === 'text') {
    const [left, low] = at(0);
    return Math.hypot(Math.max(left - x, 0, x - left - textWidth), Math.max(low - y, 0, y - low - textHeight));
  }
  const line: (readonly [number, number])[] =
    kind === 'free' || kind === 'arrow'
      ? Array.from({ length: points.length / 2 }, (_, i) => at(i))
      : [at(0), [points[2]!, points[1]!], at(1), [points[0]!, points[3]!], at(0)];
  let least = Infinity;
  for (let i = 0; i + 1 < line.length; i++) least = Math.min(least, toSegment(x, y, line[i]!, line[i + 1]!));
  return least;
}

function toSegment(
  x: number,
  y: number,
  [ax, ay]: readonly [number, number],
  [bx, by]: readonly [number, number],
): number {
  const [dx, dy] = [bx - ax, by - ay];
  const square = dx * dx + dy * dy;
  const share = square === 0 ? 0 : Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / square));
  return Math.hypot(x - ax - share * dx, y - ay - share * dy);
}

function rounded(value: number): number {
  return Math.round(value * 10_000) / 10_000;
}
