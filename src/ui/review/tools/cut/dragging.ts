import { movedFace, movedPlane, turnedPlane, type Cuts } from '@/core/cut/cuts';
import type { Vec3 } from '@/core/math/mat4';
import { cross, dot, subtract, unit } from '@/core/math/vec3';
import type { CutHandle } from '@/stage/features/cuts/frames';
import type { Drag, Press } from '@/stage/input/pointer-taker';

/** A ray in project coordinates. */
export interface SpaceRay {
  origin: Vec3;
  /** Of length 1. */
  direction: Vec3;
}

interface CutDragging {
  cuts: Cuts;
  rayAt: (press: Press) => SpaceRay;
  onMove: (cuts: Cuts) => void;
  onEnd: (cuts: Cuts) => void;
}

/** A hand at a handle of a cut: an arrow moves along itself, a ring turns about its axis. */
export function dragHandle(handle: CutHandle, press: Press, { cuts, rayAt, onMove, onEnd }: CutDragging): Drag {
  const measure = 'axis' in handle ? angleAbout(handle.at, handle.axis) : wayAlong(handle.at, handle.direction);
  const start = measure(rayAt(press));
  let now = cuts;
  return {
    move: (_, moved) => {
      const at = measure(rayAt(moved));
      if (start === null || at === null) return;
      now = applied(handle, cuts, at - start);
      onMove(now);
    },
    end: (cancelled) => onEnd(cancelled ? cuts : now),
  };
}

function applied(handle: CutHandle, cuts: Cuts, by: number): Cuts {
  if (handle.part === 'face') return cuts.box ? { ...cuts, box: movedFace(cuts.box, handle.face, by) } : cuts;
  if (handle.part === 'turn') return cuts.box ? { ...cuts, box: { ...cuts.box, turn: cuts.box.turn + by } } : cuts;
  const { plane } = handle;
  const next = handle.part === 'arrow' ? movedPlane(plane, plane.offset + by) : turnedPlane(plane, handle.axis, by);
  return { ...cuts, planes: cuts.planes.map((one) => (one.id === plane.id ? next : one)) };
}

/** How far along a line a ray passes nearest to it, in metres; null where the two are as good as parallel. */
function wayAlong(at: Vec3, direction: Vec3): (ray: SpaceRay) => number | null {
  return ({ origin, direction: d }) => {
    const lean = dot(d, direction);
    const square = 1 - lean * lean;
    if (square < 1e-4) return null;
    const w = subtract(at, origin);
    return (lean * dot(d, w) - dot(direction, w)) / square;
  };
}

/** At which angle about an axis a ray meets the plane square to it; null where it does not. */
function angleAbout(at: Vec3, axis: Vec3): (ray: SpaceRay) => number | null {
  const x = unit(cross(axis, Math.abs(axis[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]));
  const y = cross(axis, x);
  return ({ origin, direction }) => {
    const slope = dot(direction, axis);
    if (Math.abs(slope) < 1e-3) return null;
    const far = dot(subtract(at, origin), axis) / slope;
    if (far <= 0) return null;
    const from = subtract(origin.map((one, i) => one + direction[i]! * far) as Vec3, at);
    return Math.atan2(dot(from, y), dot(from, x));
  };
}
