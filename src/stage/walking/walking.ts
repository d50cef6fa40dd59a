import { MathUtils, Vector3 } from 'three';
import type { Vec3 } from '@/core/math/mat4';
import type { CameraPose } from '@/core/view/camera';
import { BODIES, PACES, type Body } from '@/core/walk/body';
import { standingPlace, walk, type Hindrance, type Walker } from '@/core/walk/walk';
import type { CameraRig } from '../camera/camera-rig';
import { LOADED_AHEAD, type Ground } from './ground';

/** On foot, or through the air wherever one likes. */
export type Gait = 'walk' | 'fly';

/** What hands want, each -1..1. */
export interface Wish {
  ahead: number;
  aside: number;
  /** To the right. */
  turn: number;
  up: number;
}

export interface WalkingEvents {
  /** Somebody stands, flies, or does neither any more. */
  onGait(gait: Gait | null): void;
  /** What keeps somebody from going on; null once nothing does. */
  onHindrance(by: Hindrance | null): void;
  /** The next frame is wanted. */
  onWish(): void;
}

/** Metres before the eyes to what is looked at. */
const LOOKED_AT = 4;
const TURN_PER_SECOND = 1.9;
const FLY_FACTOR = 2;
/** Metres a turn of the wheel goes. */
const WHEEL_METRES = 2.5;
/** The eyes follow the feet up and down stairs within about so many seconds. */
const EYES_SECONDS = 0.09;
/** The camera stands where somebody else put it, not where the walk left it. */
const ELSEWHERE = 0.05;
/** As much above or below the eye height of a body one may be to go on from a view at eye level. */
const EYE_SLACK = 0.9;
const LONGEST_STEP = 0.25;
const STEEPEST = MathUtils.degToRad(85);
/** How far above a place that was tapped its floor is looked for. */
const OVER = 0.05;
const ABOVE_PLAN = 1;
const BELOW_PLAN = 4.5;

/** Moves the camera as somebody who stands in the model: at eye level, on the floor, stopped by what is there. */
export class Walking {
  body: Body = BODIES.adult;
  private pace: number = PACES.walk;
  private gaitNow: Gait | null = null;
  private walker: Walker = { feet: [0, 0, 0], fall: 0 };
  /** Height of the eyes, which are a little behind the feet on stairs. */
  private eyes = 0;
  private readonly wishes = new Map<string, Wish>();
  private owed = 0;
  private last = 0;
  private hindrance: Hindrance | null = null;
  private loadedAt: Vec3 | null = null;
  private isLoading = false;

  constructor(
    private readonly rig: CameraRig,
    private readonly ground: Ground,
    private readonly events: WalkingEvents,
  ) {}

  get gait(): Gait | null {
    return this.gaitNow;
  }

  /** Where the feet are, project coordinates; null unless somebody stands. */
  get feet(): Vec3 | null {
    return this.gaitNow === 'walk' ? this.walker.feet : null;
  }

  /**
   * The view of somebody who stands at a place of a floor, looking as the camera does, level.
   *
   * @param place project coordinates @param bearing what they look towards, instead: radians, from east towards north
   * @returns null where nobody has room, or where there is no floor
   */
  async poseAt(place: Vec3, bearing = this.bearing): Promise<CameraPose | null> {
    await this.ground.load(place);
    const [x, y, z] = place;
    // A place of a plan may lie over the ground beside the house, or in it.
    const floor = this.ground.floorBelow(x, y, z + ABOVE_PLAN);
    const isNear = floor !== null && floor > z - BELOW_PLAN;
    const feet =
      standingPlace([x, y, z + OVER], this.body, this.ground) ??
      (isNear ? standingPlace([x, y, floor + OVER], this.body, this.ground) : null);
    return feet && this.poseFrom(feet, bearing);
  }

  /** The same over the floor below the camera. */
  async poseBelow(): Promise<CameraPose | null> {
    const { position } = this.rig.destination;
    const floor = this.ground.floorBelow(...position);
    return floor === null ? null : this.poseAt([position[0], position[1], floor]);
  }

  /** Height of what there is to stand on below a place; null where there is nothing. */
  floorUnder(place: Vec3): number | null {
    return this.ground.floorBelow(...place);
  }

  /** From now on hands walk. @param pose where somebody stands, or is going to */
  stand(pose: CameraPose): void {
    const [x, y, z] = pose.position;
    this.walker = { feet: [x, y, z - this.body.eye], fall: 0 };
    this.eyes = z;
    this.setGait('walk');
  }

  /** From now on hands fly. */
  fly(): void {
    this.setGait('fly');
  }

  /** Hands turn about the model again. */
  end(): void {
    this.setGait(null);
  }

  /** Somebody is taller or shorter from now on, or slower; their eyes go there. @param pace metres a second */
  beAs(body: Body, pace: number): void {
    this.body = body;
    this.pace = pace;
    if (this.gaitNow) this.events.onWish();
  }

  /** What one of the hands wants from now on; null lets go. @param hand keys, thumb, game pad */
  wish(hand: string, wish: Wish | null): void {
    if (wish && (wish.ahead || wish.aside || wish.turn || wish.up)) this.wishes.set(hand, wish);
    else this.wishes.delete(hand);
    if (!this.gaitNow) return;
    this.events.onWish();
  }

  /** Goes a little ahead or back. @param amount as of a wheel */
  nudge(amount: number): void {
    this.owed -= amount * WHEEL_METRES;
    this.events.onWish();
  }

  /** Looks elsewhere from where one is. @param yaw radians to the left @param pitch radians upwards */
  look(yaw: number, pitch: number): void {
    this.settle();
    const { camera, target } = this.rig;
    const forward = target.clone().sub(camera.position).normalize();
    const bearing = Math.atan2(forward.y, forward.x) + yaw;
    const tilt = MathUtils.clamp(Math.asin(MathUtils.clamp(forward.z, -1, 1)) + pitch, -STEEPEST, STEEPEST);
    this.aim(bearing, tilt);
    this.rig.movedByHand();
  }

  /** Goes on for a frame. Returns whether somebody moves. */
  step(now: number): boolean {
    const seconds = Math.min(LONGEST_STEP, Math.max(0, (now - this.last) / 1000));
    this.last = now;
    if (!this.gaitNow) return false;
    const isAsked = this.wishes.size > 0 || this.owed !== 0;
    if (this.rig.flights.isFlying) {
      if (!isAsked) return false;
      this.settle();
    }
    if (!this.isHere && (!isAsked || !this.comeHere())) return false;
    const wish = this.summed();
    const moved = this.gaitNow === 'fly' ? this.flyOn(wish, seconds) : this.walkOn(wish, seconds);
    if (moved) this.rig.movedByHand();
    return moved || this.wishes.size > 0;
  }

  private flyOn(wish: Wish, seconds: number): boolean {
    const length = this.pace * FLY_FACTOR * seconds;
    const { camera, target } = this.rig;
    const forward = target.clone().sub(camera.position).normalize();
    const right = new Vector3().crossVectors(forward, camera.up).normalize();
    const move = forward
      .clone()
      .multiplyScalar(wish.ahead * length + this.takeOwed(length * 4))
      .addScaledVector(right, wish.aside * length);
    move.z += wish.up * length;
    const turn = -wish.turn * TURN_PER_SECOND * seconds;
    if (move.lengthSq() < 1e-12 && turn === 0) return false;
    camera.position.add(move);
    this.aim(Math.atan2(forward.y, forward.x) + turn, Math.asin(MathUtils.clamp(forward.z, -1, 1)));
    this.remember();
    return true;
  }

  private walkOn(wish: Wish, seconds: number): boolean {
    const { camera, target } = this.rig;
    const forward = target.clone().sub(camera.position).normalize();
    const bearing = Math.atan2(forward.y, forward.x) - wish.turn * TURN_PER_SECOND * seconds;
    if (wish.up !== 0) {
      // Whoever wants up leaves the floor.
      this.setGait('fly');
      return this.flyOn(wish, seconds);
    }
    const ahead = wish.ahead * this.pace * seconds + this.takeOwed(this.pace * 2 * seconds);
    const aside = wish.aside * this.pace * seconds;
    const way = [
      Math.cos(bearing) * ahead + Math.sin(bearing) * aside,
      Math.sin(bearing) * ahead - Math.cos(bearing) * aside,
    ] as const;
    const before = this.walker;
    const isAsked = ahead !== 0 || aside !== 0;
    if (isAsked || before.fall > 0) {
      const { by, ...walker } = walk(before, way, seconds, this.body, this.ground);
      this.walker = walker;
      this.tell(by);
      if (by === 'waits') this.owed = 0;
      void this.load(walker.feet);
    }
    const goal = this.walker.feet[2] + this.body.eye - (this.walker.stoops ? this.body.stoop : 0);
    const gap = goal - this.eyes;
    this.eyes = Math.abs(gap) < 0.002 ? goal : this.eyes + gap * (1 - Math.exp(-seconds / EYES_SECONDS));
    const [x, y] = this.walker.feet;
    const eye = this.rig.frame.toStage([x, y, this.eyes]);
    const isStill = eye.distanceToSquared(camera.position) < 1e-10 && wish.turn === 0;
    if (isStill) return this.walker.fall > 0;
    camera.position.copy(eye);
    this.aim(bearing, Math.asin(MathUtils.clamp(forward.z, -1, 1)));
    return true;
  }

  /** Part of the way that the wheel wants gone. */
  private takeOwed(most: number): number {
    const part = MathUtils.clamp(this.owed, -most, most);
    this.owed = Math.abs(this.owed - part) < 1e-3 ? 0 : this.owed - part;
    return part;
  }

  /** Ends a flight at its goal: whoever walks off does not wait for it. */
  private settle(): void {
    if (this.rig.flights.isFlying) this.rig.jumpTo(this.rig.destination);
  }

  private summed(): Wish {
    const sum = { ahead: 0, aside: 0, turn: 0, up: 0 };
    for (const wish of this.wishes.values())
      for (const key of Object.keys(sum) as (keyof Wish)[]) sum[key] = MathUtils.clamp(sum[key] + wish[key], -1, 1);
    return sum;
  }

  private get isHere(): boolean {
    if (this.gaitNow === 'fly') return true;
    const [x, y] = this.walker.feet;
    return this.rig.frame.toStage([x, y, this.eyes]).distanceTo(this.rig.camera.position) < ELSEWHERE;
  }

  /** Goes on from where somebody else put the camera, if that is at eye level over a floor; else the walk has ended. */
  private comeHere(): boolean {
    const { position } = this.rig.pose;
    if (!this.ground.isReady(position)) {
      void this.load(position);
      this.tell('waits');
      return false;
    }
    const floor = this.ground.floorBelow(...position);
    const isAtEyeLevel = floor !== null && Math.abs(position[2] - floor - this.body.eye) < EYE_SLACK;
    if (!isAtEyeLevel) {
      this.end();
      return false;
    }
    this.walker = { feet: [position[0], position[1], floor], fall: 0 };
    this.eyes = position[2];
    return true;
  }

  private remember(): void {
    const { position } = this.rig.pose;
    this.walker = { feet: [position[0], position[1], position[2] - this.body.eye], fall: 0 };
    this.eyes = position[2];
  }

  private get bearing(): number {
    const { position, target } = this.rig.pose;
    return Math.atan2(target[1] - position[1], target[0] - position[0]);
  }

  private poseFrom([x, y, z]: Vec3, bearing: number): CameraPose {
    const eye = z + this.body.eye;
    return {
      position: [x, y, eye],
      target: [x + Math.cos(bearing) * LOOKED_AT, y + Math.sin(bearing) * LOOKED_AT, eye],
      fov: STANDING_FOV,
    };
  }

  private aim(bearing: number, tilt: number): void {
    const { camera, target } = this.rig;
    const across = Math.cos(tilt) * LOOKED_AT;
    target.set(Math.cos(bearing) * across, Math.sin(bearing) * across, Math.sin(tilt) * LOOKED_AT).add(camera.position);
    this.rig.aim();
  }

  /** Loads what lies ahead, once somebody has gone so far that it may be missing. */
  private async load(at: Vec3): Promise<void> {
    const far = this.loadedAt ? Math.hypot(...at.map((value, axis) => value - this.loadedAt![axis]!)) : Infinity;
    if (far < LOADED_AHEAD / 3 || this.isLoading) return;
    this.isLoading = true;
    try {
      await this.ground.load(at);
      this.loadedAt = at;
    } finally {
      this.isLoading = false;
    }
  }

  private tell(by: Hindrance | null): void {
    if (by === this.hindrance) return;
    this.hindrance = by;
    this.events.onHindrance(by);
  }

  private setGait(gait: Gait | null): void {
    this.owed = 0;
    this.tell(null);
    if (gait === this.gaitNow) return;
    this.gaitNow = gait;
    this.events.onGait(gait);
  }
}

/** Vertical field of view of somebody who stands in a room, degrees: wide enough to see a corner of it. */
const STANDING_FOV = 62;
