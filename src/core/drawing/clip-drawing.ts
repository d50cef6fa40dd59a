import { Clipper64, ClipType, FillRule, PathType } from 'clipper2-ts';
import { dot } from '../math/vec3';
import { pathBounds, type Path } from '../section/path';
import { planeFrame, type Plane } from '../section/plane';
import { regionsArea, type Region } from '../section/region';
import { regionsFrom, toClipper } from '../section/regions';
import type { ElementCut } from '../section/section';

/** A convex part of a plane, corners against the clock. */
type Window = [number, number][];

/** A window that holds all of the drawing, metres. */
const FAR = 1e5;

/**
 * The part of a plane that other cuts leave: what lies behind all of their faces.
 *
 * @returns null where they leave nothing; corners in the frame of the plane
 */
export function windowOf(plane: Plane, faces: readonly Plane[]): Window | null {
  const { origin, x, y } = planeFrame(plane);
  let corners: Window = [
    [-FAR, -FAR],
    [FAR, -FAR],
    [FAR, FAR],
    [-FAR, FAR],
  ];
  for (const { normal, offset } of faces) {
    const [a, b, c] = [dot(normal, x), dot(normal, y), dot(normal, origin) - offset];
    // The same plane, or one beside it.
    if (Math.hypot(a, b) < 1e-9) {
      if (c > 1e-6) return null;
      continue;
    }
    corners = convexPart(corners, (px, py) => -(a * px + b * py + c));
    if (corners.length < 3) return null;
  }
  return corners;
}

/** What of an element's cut lies within a window; null where nothing does. */
export function clippedCut<T extends ElementCut>(cut: T, window: Window): T | null {
  if (isWithin(cut, window)) return cut;
  const regions = cut.regions.flatMap((region) => clippedRegion(region, window));
  const lines = cut.lines.flatMap((line) => clippedLine(line, window));
  if (regions.length === 0 && lines.length === 0) return null;
  return { ...cut, regions, lines, area: regionsArea(regions) };
}

function isWithin({ regions, lines }: ElementCut, window: Window): boolean {
  return [...regions.map(({ border }) => border), ...lines].every((path) => {
    const [x0, y0, x1, y1] = pathBounds(path);
    return [[x0, y0], [x1, y0], [x1, y1], [x0, y1]].every(([x, y]) => sides(window).every((side) => side(x!, y!) >= 0)); // prettier-ignore
  });
}

function clippedRegion({ border, holes }: Region, window: Window): Region[] {
  const origin: [number, number] = [border[0]!, border[1]!];
  const clipper = new Clipper64();
  for (const path of [border, ...holes]) clipper.addPath(toClipper(path, origin), PathType.Subject);
  const bounds = pathBounds(border);
  // Far corners would not be told apart in whole steps; near the region they are.
  const near = windowWithin(window, bounds);
  if (near.length < 3) return [];
  clipper.addPath(toClipper(Float64Array.from(near.flat()), origin), PathType.Clip);
  return regionsFrom(clipper, ClipType.Intersection, FillRule.NonZero, origin);
}

/** The window as far as it reaches into a rectangle, with a metre around. */
function windowWithin(window: Window, [x0, y0, x1, y1]: [number, number, number, number]): Window {
  const rectangle: ((x: number, y: number) => number)[] = [
    (x) => x - x0 + 1,
    (x) => x1 + 1 - x,
    (_, y) => y - y0 + 1,
    (_, y) => y1 + 1 - y,
  ];
  return rectangle.reduce(convexPart, window);
}

/** The part of a convex shape on one side of a line. @param side how far inside a place lies, negative outside */
function convexPart(corners: Window, side: (x: number, y: number) => number): Window {
  return corners.flatMap((corner, i): Window => {
    const next = corners[(i + 1) % corners.length]!;
    const [from, to] = [side(...corner), side(...next)];
    const kept: Window = from >= 0 ? [corner] : [];
    if (from >= 0 === to >= 0) return kept;
    const share = from / (from - to);
    return [...kept, [corner[0] + (next[0] - corner[0]) * share, corner[1] + (next[1] - corner[1]) * share]];
  });
}

function clippedLine(line: Path, window: Window): Path[] {
  const parts: number[][] = [];
  let part: number[] = [];
  for (let at = 0; at + 3 < line.length; at += 2) {
    const [ax, ay, bx, by] = [line[at]!, line[at + 1]!, line[at + 2]!, line[at + 3]!];
    let [from, to] = [0, 1];
    for (const side of sides(window)) {
      const [a, b] = [side(ax, ay), side(bx, by)];
      if (a < 0 && b < 0) from = 2;
      else if (a < 0) from = Math.max(from, a / (a - b));
      else if (b < 0) to = Math.min(to, a / (a - b));
    }
    if (from >= to) continue;
    const place = (share: number): [number, number] => [ax + (bx - ax) * share, ay + (by - ay) * share];
    if (from > 0 || part.length === 0) parts.push((part = [...place(from)]));
    part.push(...place(to));
    if (to < 1) part = [];
  }
  return parts.map((one) => Float64Array.from(one));
}

/** Which side of each edge a place lies on: inside is not negative. */
function sides(window: Window): ((x: number, y: number) => number)[] {
  return window.map(([ax, ay], i) => {
    const [bx, by] = window[(i + 1) % window.length]!;
    return (x, y) => (bx - ax) * (y - ay) - (by - ay) * (x - ax);
  });
}
