import type { CameraPose } from '@/core/view/camera';

/** A view that differs from the last one by less than this is no other place: metres, radians. */
const METRES = 0.75;
const TURN = 0.5;
const MOST = 100;

/** The places where one looked about, to go back and forth through. */
export class Visited {
  private readonly poses: CameraPose[] = [];
  private at = -1;

  /** Somebody has come to rest somewhere. */
  arrived(pose: CameraPose): void {
    const last = this.poses[this.at];
    if (last && isNear(last, pose)) {
      this.poses[this.at] = pose;
      return;
    }
    this.poses.splice(this.at + 1, Infinity, pose);
    if (this.poses.length > MOST) this.poses.shift();
    this.at = this.poses.length - 1;
  }

  get hasBack(): boolean {
    return this.at > 0;
  }

  get hasForth(): boolean {
    return this.at < this.poses.length - 1;
  }

  /** The place before or after this one; null where there is none. */
  step(by: 1 | -1): CameraPose | null {
    const pose = this.poses[this.at + by];
    if (!pose) return null;
    this.at += by;
    return pose;
  }
}

function isNear(a: CameraPose, b: CameraPose): boolean {
  const gap = Math.hypot(...a.position.map((value, axis) => value - b.position[axis]!));
  const [u, v] = [a, b].map(({ position, target }) => target.map((value, axis) => value - position[axis]!));
  const cosine = u!.reduce((sum, value, axis) => sum + value * v![axis]!, 0) / (Math.hypot(...u!) * Math.hypot(...v!));
  return gap < METRES && Math.acos(Math.min(1, Math.max(-1, cosine))) < TURN && a.parallel === b.parallel;
}
