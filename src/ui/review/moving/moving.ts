import { Vector3 } from 'three';
import { NO_CUTS, planeAt } from '@/core/cut/cuts';
import { boxCentre, isEmptyBox } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import { add, scale, subtract } from '@/core/math/vec3';
import type { CameraPose } from '@/core/view/camera';
import type { ReviewSession } from '../session';
import type { StoreyLevel } from '../storeys';
import { Visited } from './visited';

export const SIDES = {
  top: { label: 'From above', direction: [0, -1e-3, 1] },
  south: { label: 'From the south', direction: [0, -1, 0] },
  east: { label: 'From the east', direction: [1, 0, 0] },
  north: { label: 'From the north', direction: [0, 1, 0] },
  west: { label: 'From the west', direction: [-1, 0, 0] },
  bottom: { label: 'From below', direction: [0, -1e-3, -1] },
} as const satisfies Record<string, { label: string; direction: Vec3 }>;
export type Side = keyof typeof SIDES;

/** A camera that has not moved for so long has come to rest. */
const REST_MS = 600;
/** From a wall that was tapped one stands so far away, metres. */
const BEFORE_WALL = 0.6;
/** Under the next floor its slab is cut away with what is above it, metres. */
const SLAB = 0.5;
/** The height at which a storey is cut whose ceiling is not known. */
const OPEN_HEIGHT = 2.4;

/** What somebody does to be elsewhere: stand, walk, fly, rise, go back, look square on. */
export class Moving {
  readonly visited = new Visited();
  /** From where one came down. */
  private above: CameraPose | null = null;
  private restTimer: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly session: ReviewSession) {
    session.store.subscribe((state, before) => {
      if (state.view.camera === before.view.camera) return;
      clearTimeout(this.restTimer);
      this.restTimer = setTimeout(() => {
        this.visited.arrived(session.store.getState().view.camera);
        this.tellVisited();
      }, REST_MS);
    });
  }

  /** Stands on what is under a press. Returns whether there was a place to stand. */
  async standAt(x: number, y: number): Promise<boolean> {
    const { stage } = this.session;
    const hit = stage && (await stage.surfaces.exactHit(stage.rig.ray(x, y)));
    if (!stage || !hit) return false;
    const isFloor = hit.normal !== null && hit.normal[2] > 0.6;
    if (isFloor) return this.standOn(hit.point);
    // In front of what is no floor one stands on what is below.
    const before = add(hit.point, scale(hit.normal ?? [0, 0, 0], BEFORE_WALL));
    const floor = stage.walking.floorUnder(before);
    if (floor === null) throw new Error('There is no floor below that place. Tap where one can stand.');
    return this.standOn([before[0], before[1], floor]);
  }

  /**
   * Stands on a place of a floor (project coordinates).
   *
   * @param bearing what is looked towards: radians, from east towards north; without, as now
   * @throws Error where nobody has room
   */
  async standOn(place: Vec3, bearing?: number): Promise<boolean> {
    const { stage } = this.session;
    if (!stage) return false;
    return this.comeDown(await stage.walking.poseAt(place, bearing));
  }

  /** Stands on the floor below the camera. */
  async standBelow(): Promise<void> {
    const { stage } = this.session;
    if (stage) this.comeDown(await stage.walking.poseBelow());
  }

  /** Turns where one is to look towards a bearing: radians, from east towards north. */
  lookTowards(bearing: number): void {
    const { stage } = this.session;
    if (!stage) return;
    const { position, target, ...rest } = stage.rig.pose;
    const away = subtract(target, position);
    const level = Math.hypot(away[0], away[1]);
    stage.rig.pose = {
      ...rest,
      position,
      target: add(position, [Math.cos(bearing) * level, Math.sin(bearing) * level, away[2]]),
    };
    stage.rig.movedByHand();
  }

  fly(): void {
    this.session.stage?.walking.fly();
  }

  /** Back up to where one came from. */
  rise(): void {
    const { stage, view } = this.session;
    const pose = this.above ?? stage?.wholePose();
    this.above = null;
    stage?.walking.end();
    if (pose) view.change({ camera: pose });
  }

  /** To the place before or after this one. */
  step(by: 1 | -1): void {
    const pose = this.visited.step(by);
    if (pose) this.session.view.change({ camera: pose });
    this.tellVisited();
  }

  switchPerspective(): void {
    const { parallel, ...camera } = this.session.stage?.rig.destination ?? this.session.store.getState().view.camera;
    this.session.stage?.walking.end();
    this.session.view.change({ camera: parallel ? camera : { ...camera, parallel: true } });
  }

  /** Looks at all that shows from one side, square on. */
  lookFrom(side: Side): void {
    const { stage, view } = this.session;
    const box = stage?.shownExtent;
    if (!stage || !box || isEmptyBox(box)) return;
    stage.walking.end();
    const camera = stage.framing(box, new Vector3(...SIDES[side].direction));
    view.change({ camera: { ...camera, parallel: true } });
  }

  /** Looks at a storey from above, square on, with all above it cut away. */
  lookAtPlan(storeys: readonly StoreyLevel[], at: number): void {
    const { stage, view } = this.session;
    const floor = storeys[at];
    const extent = stage?.extent;
    if (!stage || !floor || !extent || isEmptyBox(extent)) return;
    const next = storeys[at + 1]?.elevation;
    const top = next === undefined ? floor.elevation + OPEN_HEIGHT : Math.max(next - SLAB, floor.elevation + 1);
    const [x, y] = boxCentre(extent);
    stage.walking.end();
    const camera = stage.framing(
      [extent[0], extent[1], floor.elevation, extent[3], extent[4], top],
      new Vector3(...SIDES.top.direction),
    );
    const plane = { ...planeAt('plan', [x, y, top], [0, 0, 1]), isFramed: false };
    view.change({ camera: { ...camera, parallel: true }, cuts: { ...NO_CUTS, planes: [plane] } });
  }

  /** Zooms to what lies within a window drawn on the picture, in client pixels. */
  zoomTo(from: { x: number; y: number }, to: { x: number; y: number }): void {
    const { stage, view } = this.session;
    const camera = stage?.windowPose(from, to);
    if (camera) view.change({ camera });
  }

  private comeDown(pose: CameraPose | null): boolean {
    const { stage, view, store } = this.session;
    if (!stage) return false;
    if (!pose) throw new Error('Nobody can stand there: there is no floor, or no room. Try another place.');
    if (!stage.walking.gait) this.above = store.getState().view.camera;
    view.change({ camera: pose });
    stage.walking.stand(pose);
    return true;
  }

  private tellVisited(): void {
    const { hasBack, hasForth } = this.visited;
    this.session.store.setState({ visited: { hasBack, hasForth } });
  }
}
