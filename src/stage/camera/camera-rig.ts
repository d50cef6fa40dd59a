import { OrthographicCamera, PerspectiveCamera, Raycaster, Ray, Vector2, Vector3 } from 'three';
import type { CameraPose } from '@/core/view/camera';
import type { CoordinateFrame } from '../coordinate-frame';
import { Flights } from './flights';

export interface RigEvents {
  /** The camera moved; `byHand` tells a hand from a flight or a followed lead. */
  onMove(byHand: boolean): void;
  /** A hand let go, or a flight arrived. */
  onRest(byHand: boolean): void;
  /** The camera is about to be elsewhere at once, because no motion is wanted. */
  onLeap?(): void;
}

/** A hand that has let go for so long rests. */
const REST_MS = 220;
const UP = new Vector3(0, 0, 1);

/**
 * The camera, Z up, and the point that it looks at. What moves it, such as turning by hand, flights, or walking, sets its
 * pose; poses go in and out in project coordinates.
 */
export class CameraRig {
  private readonly perspective = new PerspectiveCamera(50, 1, 0.1, 1000);
  private readonly parallel = new OrthographicCamera(-1, 1, 1, -1, 0.1, 1000);
  private parallelNow = false;
  private ratio = 1;
  readonly target = new Vector3();
  readonly flights = new Flights(this);
  private restTimer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly element: HTMLElement,
    readonly frame: CoordinateFrame,
    private readonly events: RigEvents,
  ) {
    this.perspective.up.copy(UP);
    this.parallel.up.copy(UP);
  }

  /** The one that draws now. */
  get camera(): PerspectiveCamera | OrthographicCamera {
    return this.parallelNow ? this.parallel : this.perspective;
  }

  /** Whether it draws without perspective. */
  get isParallel(): boolean {
    return this.parallelNow;
  }

  /** Vertical field of view in degrees; of a camera without perspective, that of what is as far as the target. */
  get fov(): number {
    return this.perspective.fov;
  }

  /** Width of the picture by its height. */
  get aspect(): number {
    return this.ratio;
  }

  get pose(): CameraPose {
    return {
      position: this.frame.toProject(this.camera.position),
      target: this.frame.toProject(this.target),
      fov: this.fov,
      ...(this.parallelNow && { parallel: true }),
    };
  }

  set pose(pose: CameraPose) {
    this.parallelNow = pose.parallel === true;
    this.frame.toStage(pose.position, this.camera.position);
    this.frame.toStage(pose.target, this.target);
    this.perspective.fov = pose.fov;
    this.aim();
  }

  /** Where a flight or the camera is going to be. */
  get destination(): CameraPose {
    return this.flights.destination ?? this.pose;
  }

  /** Puts the camera somewhere at once. */
  jumpTo(pose: CameraPose): void {
    this.flights.stop();
    this.pose = pose;
    this.moved();
  }

  /** Looks at the target again, after either was moved. */
  aim(): void {
    this.camera.lookAt(this.target);
    this.fitPicture();
    this.camera.updateMatrixWorld();
  }

  /** A hand moved the camera: it ends any flight. */
  movedByHand(): void {
    this.flights.stop();
    this.events.onMove(true);
    clearTimeout(this.restTimer);
    this.restTimer = setTimeout(() => this.events.onRest(true), REST_MS);
  }

  /** Something other than a hand moved the camera: where the hand left it before is not told any more. */
  moved(): void {
    clearTimeout(this.restTimer);
    this.events.onMove(false);
  }

  leaps(): void {
    this.events.onLeap?.();
  }

  arrived(): void {
    this.events.onRest(false);
  }

  resize(width: number, height: number): void {
    this.ratio = width / Math.max(1, height);
    this.fitPicture();
  }

  /** What one pixel of the picture is wide, in metres. @param ahead metres before the eye */
  metresPerPixel(ahead: number): number {
    const away = this.parallelNow ? this.distance : ahead;
    return (2 * Math.tan((this.fov * Math.PI) / 360) * away) / Math.max(1, this.element.clientHeight);
  }

  /** The line of sight that ends at a point, in stage coordinates; how long it is. */
  sightTo(point: Vector3): { ray: Ray; distance: number } {
    const { position, near } = this.camera;
    if (!this.parallelNow) {
      const direction = point.clone().sub(position);
      const distance = direction.length();
      return { ray: new Ray(position.clone(), direction.normalize()), distance };
    }
    const direction = this.camera.getWorldDirection(new Vector3());
    const distance = point.clone().sub(position).dot(direction) - Math.min(0, near);
    return { ray: new Ray(point.clone().addScaledVector(direction, -distance), direction), distance };
  }

  /** Metres from the eye to the target. */
  get distance(): number {
    return this.camera.position.distanceTo(this.target);
  }

  /** The picture's edges, for how far the target is and how wide the element. */
  private fitPicture(): void {
    this.perspective.aspect = this.ratio;
    const half = this.distance * Math.tan((this.fov * Math.PI) / 360);
    Object.assign(this.parallel, { left: -half * this.ratio, right: half * this.ratio, top: half, bottom: -half });
    this.camera.updateProjectionMatrix();
  }

  /** Ray through a client position, in stage coordinates. */
  ray(x: number, y: number): Ray {
    const bounds = this.element.getBoundingClientRect();
    const caster = new Raycaster();
    caster.setFromCamera(
      new Vector2(((x - bounds.left) / bounds.width) * 2 - 1, 1 - ((y - bounds.top) / bounds.height) * 2),
      this.camera,
    );
    return caster.ray;
  }

  dispose(): void {
    clearTimeout(this.restTimer);
  }
}
