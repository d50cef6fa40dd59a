import { Clipper, Clipper64, ClipType, FillRule, PathType, type Path64, type Paths64 } from 'clipper2-ts';
import type { Vec3 } from '../math/mat4';
import type { TriangleMesh } from '../section/crossing';
import { signedArea, type Path } from '../section/path';
import { toClipper, STEPS } from '../section/regions';
import { cutElement } from '../section/section';
import { findLevels, type LevelArea } from './find-levels';
import { PLAN_HEIGHT, type RevisionPlans, type StoreyPlan } from './plan';

/** An element as plans see it. Metres, Z up, in one frame. */
export interface PlanElement {
  category: string;
  /** Category of what it is a part of; empty where it is none. */
  whole: string;
  /** Least and greatest height. */
  low: number;
  high: number;
  meshes: readonly TriangleMesh[];
}

export interface PlanStorey {
  name: string;
  elevation: number;
}

/** Pipes, ducts and cables would cover the plan; openings and rooms are not there to be seen. */
const LEFT_OUT =
  /duct|pipe|cable|flow|wire|sensor|outlet|terminal|fitting|segment|opening|space|annotation|grid|reinforc|fastener|lamp|light fixture/i;
const LIGHT =
  /window|door|railing|furni|plant|geographic|site|curtain|covering|chimney|sanitary|transport|proxy|device/i;
const STEPS_OF = /stair|ramp/i;
const STANDING = /slab|floor|covering|stair|ramp|landing|deck/i;
/** A face that is less steep than this is level. Cosine. */
const LEVEL = 0.94;
/** Surfaces so far below and above a floor's height belong to it, metres. */
const UNDER = 0.4;
const OVER = 0.45;
/** Storeys closer than this are one, metres. */
const ONE_STOREY = 0.3;
const MOST_STOREYS = 80;
/** Corners that stick out by less than this share of the whole, and metres at least, are left out. */
const FINENESS = 1 / 2500;
const FINEST = 0.03;
/** Square metres: what is smaller shows as nothing on a map. */
const LEAST_AREA = 0.004;

/**
 * Plans of all storeys of a model, cut at the usual height above their floors. Where the file names no storeys, levels are
 * found in the geometry.
 *
 * @param pause waits a moment, so that others get their turn
 */
export async function makePlans(
  elements: readonly PlanElement[],
  named: readonly PlanStorey[],
  pause: () => Promise<void> = () => Promise.resolve(),
): Promise<RevisionPlans> {
  const storeys = storeysOf(elements, named);
  const corner = cornerOf(elements);
  const fineness = Math.max(FINEST, corner.size * FINENESS);
  const plans: StoreyPlan[] = [];
  for (const [i, { name, elevation }] of storeys.entries()) {
    await pause();
    const ceiling = storeys[i + 1]?.elevation ?? elevation + 4;
    const plan = planOf(elements, { name, elevation, ceiling }, corner.at, fineness);
    if (plan.walls || plan.light || plan.ground) plans.push(plan);
  }
  return { corner: corner.at, storeys: plans };
}

function storeysOf(elements: readonly PlanElement[], named: readonly PlanStorey[]): PlanStorey[] {
  const found =
    named.length > 0
      ? [...named].sort((a, b) => a.elevation - b.elevation)
      : findLevels(levelAreas(elements)).map((elevation) => ({ name: '', elevation }));
  const storeys: PlanStorey[] = [];
  for (const storey of found) {
    const last = storeys[storeys.length - 1];
    if (!last || storey.elevation - last.elevation > ONE_STOREY) storeys.push(storey);
  }
  return storeys.slice(0, MOST_STOREYS);
}

function levelAreas(elements: readonly PlanElement[]): LevelArea[] {
  const byHeight = new Map<number, number>();
  for (const element of elements)
    for (const mesh of element.meshes)
      for (const { height, area } of levelFaces(mesh)) {
        const bin = Math.round(height / 0.02);
        byHeight.set(bin, (byHeight.get(bin) ?? 0) + area);
      }
  return [...byHeight].map(([bin, area]) => ({ height: bin * 0.02, area }));
}

function cornerOf(elements: readonly PlanElement[]): { at: [number, number]; size: number } {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { meshes } of elements)
    for (const { positions } of meshes)
      for (let at = 0; at < positions.length; at += 3) {
        const [x, y] = [positions[at]!, positions[at + 1]!];
        if (x < x0) x0 = x;
        if (x > x1) x1 = x;
        if (y < y0) y0 = y;
        if (y > y1) y1 = y;
      }
  if (!(x1 >= x0)) return { at: [0, 0], size: 0 };
  return { at: [x0, y0], size: Math.hypot(x1 - x0, y1 - y0) };
}

function planOf(
  elements: readonly PlanElement[],
  { name, elevation, ceiling }: PlanStorey & { ceiling: number },
  corner: [number, number],
  fineness: number,
): StoreyPlan {
  const height = elevation + PLAN_HEIGHT;
  const plane = { normal: [0, 0, 1] as Vec3, offset: height };
  const walls: Path64[] = [];
  const light: Path64[] = [];
  const ground: Path64[] = [];
  const steps: Path64[] = [];
  for (const { category, whole, low, high, meshes } of elements) {
    if (LEFT_OUT.test(category)) continue;
    const isStep = STEPS_OF.test(category) || STEPS_OF.test(whole);
    if (low < height && high > height && !isStep) {
      const cut = cutElement(meshes, plane);
      const into = LIGHT.test(category) ? light : walls;
      for (const { border, holes } of cut?.regions ?? [])
        for (const loop of [border, ...holes]) into.push(toClipper(loop, corner));
    }
    if (isStep && high > elevation - UNDER && low < ceiling - 0.2)
      addFaces(steps, meshes, corner, elevation - UNDER, Math.min(ceiling, high + 0.01));
    else if (STANDING.test(category) && high > elevation - UNDER && low < elevation + OVER)
      addFaces(ground, meshes, corner, elevation - UNDER, elevation + OVER);
  }
  return {
    name,
    floor: elevation,
    ground: drawn(ground, fineness * 2),
    walls: drawn(walls, fineness),
    light: drawn(light, fineness),
    steps: drawn(steps, fineness),
  };
}

/** Adds the level faces of meshes between two heights, each seen from above against the clock. */
function addFaces(
  into: Path64[],
  meshes: readonly TriangleMesh[],
  corner: [number, number],
  from: number,
  to: number,
): void {
  for (const mesh of meshes)
    for (const { height, corners } of levelFaces(mesh)) {
      if (height < from || height > to) continue;
      into.push(toClipper(signedArea(corners) < 0 ? turned(corners) : corners, corner));
    }
}

function turned([ax, ay, bx, by, cx, cy]: Path): Path {
  return Float64Array.from([ax!, ay!, cx!, cy!, bx!, by!]);
}

/** Level triangles that face up; files are not at one about which side is out, so both sides count of thin ones. */
function* levelFaces({ positions, indices }: TriangleMesh): Generator<{ height: number; area: number; corners: Path }> {
  for (let at = 0; at < indices.length; at += 3) {
    const [a, b, c] = [indices[at]! * 3, indices[at + 1]! * 3, indices[at + 2]! * 3];
    const [ux, uy, uz] = [0, 1, 2].map((k) => positions[b + k]! - positions[a + k]!) as Vec3;
    const [vx, vy, vz] = [0, 1, 2].map((k) => positions[c + k]! - positions[a + k]!) as Vec3;
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const length = Math.hypot(nx, ny, nz);
    if (length < 1e-9 || nz < LEVEL * length) continue;
    yield {
      height: (positions[a + 2]! + positions[b + 2]! + positions[c + 2]!) / 3,
      area: length / 2,
      corners: Float64Array.from([
        positions[a]!,
        positions[a + 1]!,
        positions[b]!,
        positions[b + 1]!,
        positions[c]!,
        positions[c + 1]!,
      ]),
    };
  }
}

/** Outlines as one, without what is too fine to be seen, as path data in centimetres. */
function drawn(paths: Path64[], fineness: number): string {
  if (paths.length === 0) return '';
  const clipper = new Clipper64();
  clipper.addPaths(paths, PathType.Subject);
  const united: Paths64 = [];
  clipper.execute(ClipType.Union, FillRule.NonZero, united);
  const steps = STEPS / 100;
  return Clipper.simplifyPaths(united, fineness * STEPS, true)
    .filter((path) => Math.abs(Clipper.area(path)) > LEAST_AREA * STEPS * STEPS)
    .map((path) => pathData(path.map(({ x, y }) => [Math.round(x / steps), Math.round(y / steps)] as const)))
    .join('');
}

/** Path data of a closed line: its first corner, then from corner to corner. */
function pathData(corners: readonly (readonly [number, number])[]): string {
  const [[x0, y0] = [0, 0], ...rest] = corners;
  let [x, y] = [x0, y0];
  let data = `M${x} ${y}l`;
  rest.forEach(([nextX, nextY], i) => {
    data += `${i === 0 ? '' : separator(nextX - x)}${nextX - x}${separator(nextY - y)}${nextY - y}`;
    [x, y] = [nextX, nextY];
  });
  return `${data}z`;
}

/** A sign parts two numbers as well as a space does. */
function separator(next: number): string {
  return next < 0 ? '' : ' ';
}
