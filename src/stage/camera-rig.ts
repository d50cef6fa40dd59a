import { MathUtils, PerspectiveCamera, Plane, Quaternion, Raycaster, Vector2, Vector3 } from 'three';
import type { Vec3 } from '@/core/math/mat4';
import { flightPose, type CameraPose } from '@/core/viewpoint';

const UP = new Vector3(0, 0, 1);
const STEEPEST = MathUtils.degToRad(89);
const TAP_PIXELS = 6;
const FLIGHT_MS = 700;

export interface RigEvents {
  /** The camera moved; `byUser` tells a hand from a flight or a followed lead. */
  onMove(byUser: boolean): void;
  /** A hand let go, or a flight arrived. */
  onSettle(): void;
  onTap(x: number, y: number): void;
  onDoubleTap(x: number, y: number): void;
  onHover(x: number, y: number): void;
  onLeave(): void;
}

/**
 * Turns, pans and zooms a camera (Z up) about the point under the cursor or fingers. Works in stage coordinates;
 * `origin` is added in poses that go out and subtracted from those that come in.
 */
export class CameraRig {
  readonly camera = new PerspectiveCamera(50, 1, 0.1, 1000);
  readonly target = new Vector3();
  origin: Vec3 = [0, 0, 0];
  private readonly pointers = new Map<number, Vector2>();
  private readonly pivot = new Vector3();
  private moved = 0;
  private lastTap = { time: -Infinity, x: 0, y: 0 };
  private settleTimer: ReturnType<typeof setTimeout> | undefined;
  private flight: { from: CameraPose; to: CameraPose; start: number } | null = null;
  private glide: CameraPose | null = null;
  private readonly controller = new AbortController();

  /** @param surfaceAt nearest surface under a client position, in stage coordinates */
  constructor(
    private readonly element: HTMLElement,
    private readonly surfaceAt: (x: number, y: number) => Vector3 | null,
    private readonly events: RigEvents,
  ) {
    this.camera.up.copy(UP);
    const { signal } = this.controller;
    element.addEventListener('pointerdown', this.onDown, { signal });
    element.addEventListener('pointermove', this.onMove, { signal });
    element.addEventListener('pointerup', this.onUp, { signal });
    element.addEventListener('pointercancel', this.onUp, { signal });
    element.addEventListener('pointerleave', () => this.events.onLeave(), { signal });
    element.addEventListener('wheel', this.onWheel, { signal, passive: false });
    element.addEventListener('contextmenu', (event) => event.preventDefault(), { signal });
    element.addEventListener('keydown', this.onKey, { signal });
  }

  dispose(): void {
    this.controller.abort();
    clearTimeout(this.settleTimer);
  }

  get pose(): CameraPose {
    const { position } = this.camera;
    const out = (v: Vector3): Vec3 => [v.x + this.origin[0], v.y + this.origin[1], v.z + this.origin[2]];
    return { position: out(position), target: out(this.target), fov: this.camera.fov };
  }

  set pose(pose: CameraPose) {
    this.camera.position.set(
      pose.position[0] - this.origin[0],
      pose.position[1] - this.origin[1],
      pose.position[2] - this.origin[2],
    );
    this.target.set(pose.target[0] - this.origin[0], pose.target[1] - this.origin[1], pose.target[2] - this.origin[2]);
    this.camera.fov = pose.fov;
    this.aim();
  }

  /** Eased flight; any hand on the camera interrupts it. Jumps where the system asks for no motion. */
  flyTo(pose: CameraPose): void {
    this.stop();
    if (wantsNoMotion()) {
      this.pose = pose;
      this.events.onMove(false);
      this.events.onSettle();
    } else {
      this.flight = { from: this.pose, to: pose, start: performance.now() };
      this.events.onMove(false);
    }
  }

  /** Follows a stream of poses, such as the lead's, closing a part of the way each frame. */
  glideTo(pose: CameraPose): void {
    this.flight = null;
    if (wantsNoMotion()) this.pose = pose;
    else this.glide = pose;
    this.events.onMove(false);
  }

  get flying(): boolean {
    return this.flight !== null || this.glide !== null;
  }

  /** Where a flight or the camera is going to be. */
  get destination(): CameraPose {
    return this.flight?.to ?? this.glide ?? this.pose;
  }

  /** Advances a flight; called once a frame. */
  step(now: number): void {
    if (this.glide) this.stepGlide(this.glide);
    if (!this.flight) return;
    const share = (now - this.flight.start) / FLIGHT_MS;
    const { from, to } = this.flight;
    if (share >= 1) this.flight = null;
    this.pose = share >= 1 ? to : flightPose(from, to, share);
    this.events.onMove(false);
    if (share >= 1) this.events.onSettle();
  }

  private stepGlide(goal: CameraPose): void {
    const here = this.pose;
    const gap = Math.hypot(
      ...here.position.map((value, axis) => value - goal.position[axis]!),
      ...here.target.map((value, axis) => value - goal.target[axis]!),
    );
    const arrived = gap < 0.005 && Math.abs(here.fov - goal.fov) < 0.01;
    if (arrived) this.glide = null;
    this.pose = arrived ? goal : flightPose(here, goal, 0.4);
    this.events.onMove(false);
  }

  resize(width: number, height: number): void {
    this.camera.aspect = width / Math.max(1, height);
    this.camera.updateProjectionMatrix();
  }

  /** Ray through a client position, in stage coordinates. */
  ray(x: number, y: number) {
    const bounds = this.element.getBoundingClientRect();
    const caster = new Raycaster();
    caster.setFromCamera(
      new Vector2(((x - bounds.left) / bounds.width) * 2 - 1, 1 - ((y - bounds.top) / bounds.height) * 2),
      this.camera,
    );
    return caster.ray;
  }

  private aim(): void {
    this.camera.lookAt(this.target);
    this.camera.updateProjectionMatrix();
    this.camera.updateMatrixWorld();
  }

  private readonly onDown = (event: PointerEvent): void => {
    this.element.setPointerCapture(event.pointerId);
    this.pointers.set(event.pointerId, new Vector2(event.clientX, event.clientY));
    this.stop();
    if (this.pointers.size === 1) this.moved = 0;
    const centre = this.centre();
    this.pivot.copy(this.surfaceAt(centre.x, centre.y) ?? this.target);
  };

  private readonly onMove = (event: PointerEvent): void => {
    const last = this.pointers.get(event.pointerId);
    if (!last) {
      if (event.pointerType !== 'touch') this.events.onHover(event.clientX, event.clientY);
      return;
    }
    const before = this.centre();
    const spread = this.spread();
    const dx = event.clientX - last.x;
    const dy = event.clientY - last.y;
    last.set(event.clientX, event.clientY);
    this.moved += Math.hypot(dx, dy);
    if (this.moved < TAP_PIXELS) return;
    if (this.pointers.size >= 2) {
      const after = this.centre();
      this.pan(before, after);
      const now = this.spread();
      if (spread > 0 && now > 0) this.zoom(spread / now, this.pivot);
    } else if (event.buttons & 6 || event.shiftKey) {
      this.pan(before, this.centre());
    } else {
      const { clientHeight } = this.element;
      this.turn((-dx / clientHeight) * Math.PI * 1.2, (-dy / clientHeight) * Math.PI * 1.2, this.pivot);
    }
    this.byHand();
  };

  private readonly onUp = (event: PointerEvent): void => {
    if (!this.pointers.delete(event.pointerId)) return;
    const centre = this.pointers.size > 0 ? this.centre() : null;
    if (centre) this.pivot.copy(this.surfaceAt(centre.x, centre.y) ?? this.target);
    if (event.type === 'pointercancel' || this.moved >= TAP_PIXELS || this.pointers.size > 0 || event.button > 0)
      return;
    const { clientX: x, clientY: y } = event;
    const now = performance.now();
    const isDouble = now - this.lastTap.time < 350 && Math.hypot(x - this.lastTap.x, y - this.lastTap.y) < 24;
    this.lastTap = { time: isDouble ? -Infinity : now, x, y };
    if (isDouble) this.events.onDoubleTap(x, y);
    else this.events.onTap(x, y);
  };

  private readonly onWheel = (event: WheelEvent): void => {
    event.preventDefault();
    this.stop();
    const point = this.surfaceAt(event.clientX, event.clientY) ?? this.onTargetPlane(event.clientX, event.clientY);
    const lines = event.deltaMode === WheelEvent.DOM_DELTA_LINE ? 30 : 1;
    this.zoom(Math.exp(MathUtils.clamp(event.deltaY * lines, -240, 240) * (event.ctrlKey ? 0.008 : 0.0018)), point);
    this.byHand();
  };

  private readonly onKey = (event: KeyboardEvent): void => {
    const turn = 0.12;
    const { clientWidth, clientHeight } = this.element;
    const centre = new Vector2(clientWidth / 2, clientHeight / 2);
    const steps: Record<string, () => void> = event.shiftKey
      ? {
          ArrowLeft: () => this.pan(centre, centre.clone().setX(centre.x + 60)),
          ArrowRight: () => this.pan(centre, centre.clone().setX(centre.x - 60)),
          ArrowUp: () => this.pan(centre, centre.clone().setY(centre.y + 60)),
          ArrowDown: () => this.pan(centre, centre.clone().setY(centre.y - 60)),
        }
      : {
          ArrowLeft: () => this.turn(-turn, 0, this.target),
          ArrowRight: () => this.turn(turn, 0, this.target),
          ArrowUp: () => this.turn(0, -turn, this.target),
          ArrowDown: () => this.turn(0, turn, this.target),
          '+': () => this.zoom(0.85, this.target),
          '=': () => this.zoom(0.85, this.target),
          '-': () => this.zoom(1 / 0.85, this.target),
        };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    this.stop();
    this.pivot.copy(this.target);
    step();
    this.byHand();
  };

  private stop(): void {
    this.flight = null;
    this.glide = null;
  }

  private byHand(): void {
    this.events.onMove(true);
    clearTimeout(this.settleTimer);
    this.settleTimer = setTimeout(() => this.events.onSettle(), 220);
  }

  private centre(): Vector2 {
    const sum = new Vector2();
    for (const pointer of this.pointers.values()) sum.add(pointer);
    return sum.divideScalar(Math.max(1, this.pointers.size));
  }

  private spread(): number {
    const [a, b] = [...this.pointers.values()];
    return a && b ? a.distanceTo(b) : 0;
  }

  /** Turns eye and target about the pivot; the horizon stays level. */
  private turn(yaw: number, pitch: number, pivot: Vector3): void {
    const forward = this.target.clone().sub(this.camera.position).normalize();
    const elevation = Math.asin(MathUtils.clamp(forward.z, -1, 1));
    const tilt = MathUtils.clamp(elevation + pitch, -STEEPEST, STEEPEST) - elevation;
    const right = new Vector3().crossVectors(forward, UP).normalize();
    const rotation = new Quaternion()
      .setFromAxisAngle(UP, yaw)
      .multiply(new Quaternion().setFromAxisAngle(right, tilt));
    for (const point of [this.camera.position, this.target]) point.sub(pivot).applyQuaternion(rotation).add(pivot);
    this.aim();
  }

  /** Moves so that what was under `from` comes under `to` (client positions), at the pivot's depth. */
  private pan(from: Vector2, to: Vector2): void {
    const forward = this.camera.getWorldDirection(new Vector3());
    const plane = new Plane().setFromNormalAndCoplanarPoint(forward, this.pivot);
    const a = this.ray(from.x, from.y).intersectPlane(plane, new Vector3());
    const b = this.ray(to.x, to.y).intersectPlane(plane, new Vector3());
    if (!a || !b) return;
    const shift = a.sub(b);
    this.camera.position.add(shift);
    this.target.add(shift);
    this.aim();
  }

  /** Scales the distance of eye and target from a point, which so stays in its place on the screen. */
  private zoom(factor: number, point: Vector3): void {
    const distance = this.camera.position.distanceTo(point);
    const bounded = MathUtils.clamp(distance * factor, 0.15, 5000) / Math.max(distance, 1e-6);
    for (const moved of [this.camera.position, this.target]) moved.sub(point).multiplyScalar(bounded).add(point);
    this.aim();
  }

  private onTargetPlane(x: number, y: number): Vector3 {
    const plane = new Plane().setFromNormalAndCoplanarPoint(this.camera.getWorldDirection(new Vector3()), this.target);
    return this.ray(x, y).intersectPlane(plane, new Vector3()) ?? this.target.clone();
  }
}

function wantsNoMotion(): boolean {
  return matchMedia('(prefers-reduced-motion: reduce)').matches;
}
