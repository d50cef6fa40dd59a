import { PerspectiveCamera, Raycaster, Vector2, Vector3, type Ray } from 'three';
import type { CameraPose } from '@/core/view/camera';
import type { CoordinateFrame } from '../coordinate-frame';
import { Flights } from './flights';

export interface RigEvents {
  /** The camera moved; `byHand` tells a hand from a flight or a followed lead. */
  onMove(byHand: boolean): void;
  /** A hand let go, or a flight arrived. */
  onRest(byHand: boolean): void;
}

/** A hand that has let go for so long rests. */
const REST_MS = 220;
const UP = new Vector3(0, 0, 1);

/**
 * The camera, Z up, and the point that it looks at. What moves it, such as turning by hand, flights, or walking, sets its
 * pose; poses go in and out in project coordinates.
 */
export class CameraRig {
  readonly camera = new PerspectiveCamera(50, 1, 0.1, 1000);
  readonly target = new Vector3();
  readonly flights = new Flights(this);
  private restTimer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly element: HTMLElement,
    readonly frame: CoordinateFrame,
    private readonly events: RigEvents,
  ) {
    this.camera.up.copy(UP);
  }

  get pose(): CameraPose {
    return {
      position: this.frame.toProject(this.camera.position),
      target: this.frame.toProject(this.target),
      fov: this.camera.fov,
    };
  }

  set pose(pose: CameraPose) {
    this.frame.toStage(pose.position, this.camera.position);
    this.frame.toStage(pose.target, this.target);
    this.camera.fov = pose.fov;
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
    this.camera.updateProjectionMatrix();
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

  arrived(): void {
    this.events.onRest(false);
  }

  resize(width: number, height: number): void {
    this.camera.aspect = width / Math.max(1, height);
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
