import { sameCamera, type CameraPose } from '@/core/view/camera';
import { flightPose } from '@/core/view/flight';
import type { CameraRig } from './camera-rig';

const FLIGHT_MS = 700;
/** The part of the way that following closes each frame. */
const GLIDE_SHARE = 0.4;
const NEAR_METRES = 0.005;

/** Moves the camera without a hand: eased flights, and following a stream of poses. Any hand interrupts both. */
export class Flights {
  private flight: { from: CameraPose; to: CameraPose; start: number } | null = null;
  private glide: CameraPose | null = null;

  constructor(private readonly rig: CameraRig) {}

  /** Eased flight; a leap where the system asks for no motion. */
  flyTo(pose: CameraPose): void {
    this.stop();
    if (wantsNoMotion()) {
      this.rig.leaps();
      this.rig.pose = pose;
      this.rig.moved();
      this.rig.arrived();
    } else {
      this.flight = { from: this.rig.pose, to: pose, start: performance.now() };
      this.rig.moved();
    }
  }

  /** Follows a stream of poses, such as the lead's, closing a part of the way each frame. */
  glideTo(pose: CameraPose): void {
    this.flight = null;
    if (wantsNoMotion()) this.rig.pose = pose;
    else this.glide = pose;
    this.rig.moved();
  }

  get isFlying(): boolean {
    return this.flight !== null || this.glide !== null;
  }

  get destination(): CameraPose | null {
    return this.flight?.to ?? this.glide;
  }

  stop(): void {
    this.flight = null;
    this.glide = null;
  }

  /** Goes on with what is under way; called once a frame. */
  step(now: number): void {
    if (this.glide) this.stepGlide(this.glide);
    if (!this.flight) return;
    const share = (now - this.flight.start) / FLIGHT_MS;
    const { from, to } = this.flight;
    if (share >= 1) this.flight = null;
    this.rig.pose = share >= 1 ? to : flightPose(from, to, share);
    this.rig.moved();
    if (share >= 1) this.rig.arrived();
  }

  private stepGlide(goal: CameraPose): void {
    const here = this.rig.pose;
    const gap = Math.hypot(
      ...here.position.map((value, axis) => value - goal.position[axis]!),
      ...here.target.map((value, axis) => value - goal.target[axis]!),
    );
    const arrived = sameCamera(here, goal) || (gap < NEAR_METRES && Math.abs(here.fov - goal.fov) < 0.01);
    if (arrived) this.glide = null;
    this.rig.pose = arrived ? goal : flightPose(here, goal, GLIDE_SHARE);
    this.rig.moved();
  }
}

function wantsNoMotion(): boolean {
  return matchMedia('(prefers-reduced-motion: reduce)').matches;
}
