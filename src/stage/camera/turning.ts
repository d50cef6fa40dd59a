import { MathUtils, Plane, Quaternion, Vector2, Vector3 } from 'three';
import type { Drag, PointerTaker, Press } from '../input/pointer-taker';
import type { CameraRig } from './camera-rig';

const UP = new Vector3(0, 0, 1);
const STEEPEST = MathUtils.degToRad(89);
const KEY_TURN = 0.12;
const KEY_PIXELS = 60;
const KEY_ZOOM = 0.85;
const MIDDLE_OR_RIGHT = 2 | 4;

/**
 * Turns, moves and zooms the camera about the point under the cursor or fingers. It takes every gesture that nobody before
 * it has taken.
 */
export class Turning implements PointerTaker {
  private readonly pivot = new Vector3();

  /** @param surfaceAt nearest surface under a client position, in stage coordinates */
  constructor(
    private readonly rig: CameraRig,
    private readonly element: HTMLElement,
    private readonly surfaceAt: (x: number, y: number) => Vector3 | null,
  ) {}

  press(press: Press): Drag {
    if (this.rig.flights.isFlying) this.rig.movedByHand();
    let fingers: readonly Press[] = [press];
    const place = () => {
      const { x, y } = centre(fingers);
      this.pivot.copy(this.surfaceAt(x, y) ?? this.rig.target);
    };
    place();
    return {
      fingers: (now) => {
        fingers = now;
        if (now.length > 0) place();
      },
      move: (now, moved) => {
        const before = fingers;
        fingers = now;
        if (now.length >= 2) {
          this.pan(centre(before), centre(now));
          const [apart, wasApart] = [distance(now), distance(before)];
          if (apart > 0 && wasApart > 0) this.zoom(wasApart / apart, this.pivot);
        } else if (moved.buttons & MIDDLE_OR_RIGHT || moved.shift) this.pan(centre(before), centre(now));
        else {
          const { clientHeight } = this.element;
          const [a, b] = [centre(before), centre(now)];
          const full = (Math.PI * 1.2) / clientHeight;
          this.turn((a.x - b.x) * full, (a.y - b.y) * full, this.pivot);
        }
        this.rig.movedByHand();
      },
      end: () => undefined,
    };
  }

  wheel({ x, y }: Press, amount: number): boolean {
    this.zoom(Math.exp(amount), this.surfaceAt(x, y) ?? this.onTargetPlane(x, y));
    this.rig.movedByHand();
    return true;
  }

  key({ key, shiftKey }: KeyboardEvent): boolean {
    const bounds = this.element.getBoundingClientRect();
    const middle = new Vector2(bounds.left + bounds.width / 2, bounds.top + bounds.height / 2);
    const pan = (x: number, y: number) => {
      this.pivot.copy(this.rig.target);
      this.pan(middle, middle.clone().add(new Vector2(x, y)));
    };
    const turn = (yaw: number, pitch: number) => this.turn(yaw, pitch, this.rig.target);
    const steps: Record<string, () => void> = shiftKey
      ? {
          ArrowLeft: () => pan(KEY_PIXELS, 0),
          ArrowRight: () => pan(-KEY_PIXELS, 0),
          ArrowUp: () => pan(0, KEY_PIXELS),
          ArrowDown: () => pan(0, -KEY_PIXELS),
          '+': () => this.zoom(KEY_ZOOM, this.rig.target),
        }
      : {
          ArrowLeft: () => turn(-KEY_TURN, 0),
          ArrowRight: () => turn(KEY_TURN, 0),
          ArrowUp: () => turn(0, -KEY_TURN),
          ArrowDown: () => turn(0, KEY_TURN),
          '+': () => this.zoom(KEY_ZOOM, this.rig.target),
          '=': () => this.zoom(KEY_ZOOM, this.rig.target),
          '-': () => this.zoom(1 / KEY_ZOOM, this.rig.target),
        };
    const step = steps[key];
    if (!step) return false;
    step();
    this.rig.movedByHand();
    return true;
  }

  /** Turns eye and target about the pivot; the horizon stays level. */
  private turn(yaw: number, pitch: number, pivot: Vector3): void {
    const { camera, target } = this.rig;
    const forward = target.clone().sub(camera.position).normalize();
    const elevation = Math.asin(MathUtils.clamp(forward.z, -1, 1));
    const tilt = MathUtils.clamp(elevation + pitch, -STEEPEST, STEEPEST) - elevation;
    const right = new Vector3().crossVectors(forward, UP).normalize();
    const rotation = new Quaternion()
      .setFromAxisAngle(UP, yaw)
      .multiply(new Quaternion().setFromAxisAngle(right, tilt));
    for (const point of [camera.position, target]) point.sub(pivot).applyQuaternion(rotation).add(pivot);
    this.rig.aim();
  }

  /** Moves so that what was under `from` comes under `to` (client positions), at the pivot's depth. */
  private pan(from: Vector2, to: Vector2): void {
    const { camera, target } = this.rig;
    const plane = new Plane().setFromNormalAndCoplanarPoint(camera.getWorldDirection(new Vector3()), this.pivot);
    const a = this.rig.ray(from.x, from.y).intersectPlane(plane, new Vector3());
    const b = this.rig.ray(to.x, to.y).intersectPlane(plane, new Vector3());
    if (!a || !b) return;
    const shift = a.sub(b);
    camera.position.add(shift);
    target.add(shift);
    this.rig.aim();
  }

  /** Scales the distance of eye and target from a point, which so stays in its place on the screen. */
  private zoom(factor: number, point: Vector3): void {
    const { camera, target } = this.rig;
    const away = camera.position.distanceTo(this.rig.isParallel ? target : point);
    const bounded = MathUtils.clamp(away * factor, 0.15, 5000) / Math.max(away, 1e-6);
    for (const moved of [camera.position, target]) moved.sub(point).multiplyScalar(bounded).add(point);
    this.rig.aim();
  }

  private onTargetPlane(x: number, y: number): Vector3 {
    const { camera, target } = this.rig;
    const plane = new Plane().setFromNormalAndCoplanarPoint(camera.getWorldDirection(new Vector3()), target);
    return this.rig.ray(x, y).intersectPlane(plane, new Vector3()) ?? target.clone();
  }
}

function centre(fingers: readonly Press[]): Vector2 {
  const sum = new Vector2();
  for (const { x, y } of fingers) sum.add(new Vector2(x, y));
  return sum.divideScalar(Math.max(1, fingers.length));
}

function distance([a, b]: readonly Press[]): number {
  return a && b ? Math.hypot(a.x - b.x, a.y - b.y) : 0;
}
