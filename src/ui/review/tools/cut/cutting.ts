import {
  boxAbout,
  boxAroundOutline,
  MOST_PLANES,
  NO_CUTS,
  planeAt,
  type CutBox,
  type CutPlane,
  type Cuts,
} from '@/core/cut/cuts';
import { withElements } from '@/core/elements/element-set';
import { boxCentre, boxDiagonal, isEmptyBox, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import { subtract, unit } from '@/core/math/vec3';
import type { ReviewSession } from '../../session';
import type { StoreyLevel } from '../../storeys';

/** Metres that a floor with its ceiling takes. */
const SLAB = 0.6;
/** Metres that a room without a ceiling is high. */
const STOREY = 3;
/** Metres that a box leaves around what it is made for. */
const AROUND = 0.25;

/** What the tray and the handles of Cut do to the view. */
export class Cutting {
  constructor(private readonly session: ReviewSession) {}

  get cuts(): Cuts {
    return this.session.store.getState().view.cuts;
  }

  /** @param isMoving whether a hand is still at it */
  set(cuts: Cuts, isMoving = false): void {
    this.session.view.set({ cuts }, isMoving);
  }

  change(id: string, change: (plane: CutPlane) => CutPlane): void {
    const { cuts } = this;
    this.set({ ...cuts, planes: cuts.planes.map((plane) => (plane.id === id ? change(plane) : plane)) });
  }

  remove(id: string): void {
    this.set({ ...this.cuts, planes: this.cuts.planes.filter((plane) => plane.id !== id) });
  }

  changeBox(box: CutBox | null): void {
    this.set({ ...this.cuts, box });
  }

  get isFull(): boolean {
    return this.cuts.planes.length >= MOST_PLANES;
  }

  /** A plane on the face under a press; away is what stands before it. */
  async onFace(x: number, y: number): Promise<boolean> {
    const { stage } = this.session;
    const hit = stage && (await stage.surfaces.exactHit(stage.rig.ray(x, y)));
    if (!hit?.normal) return false;
    this.add(hit.point, hit.normal);
    return true;
  }

  /** A plane across an axis, through the middle of what there is; away is what lies towards the camera. */
  acrossAxis(axis: 0 | 1 | 2): void {
    const { stage } = this.session;
    if (!stage || isEmptyBox(stage.extent)) return;
    const middle = boxCentre(stage.extent);
    const towards = stage.rig.pose.position[axis]! >= middle[axis]! ? 1 : -1;
    this.add(middle, [0, 1, 2].map((k) => (k === axis ? towards : 0)) as Vec3);
  }

  /** A plane square to where one looks, as far away as what one turns about. */
  acrossPicture(): void {
    const pose = this.session.stage?.rig.pose;
    if (pose) this.add(pose.target, unit(subtract(pose.position, pose.target)));
  }

  /** A level plane above a floor; away is what lies above. @param elevation of the floor, metres @param height above it */
  aboveFloor(elevation: number, height: number): void {
    const { stage } = this.session;
    if (!stage || isEmptyBox(stage.extent)) return;
    const [x, y] = boxCentre(stage.extent);
    this.add([x, y, elevation + height], [0, 0, 1]);
  }

  /** A box around what is selected. */
  boxAroundSelection(): void {
    const { stage, store } = this.session;
    if (stage) this.boxAround(stage.boxOf(store.getState().view.selection));
  }

  /** A box around a storey, from under its floor to under the ceiling. */
  boxAroundStorey(storeys: readonly StoreyLevel[], at: number): void {
    const extent = this.session.stage?.extent;
    const floor = storeys[at];
    if (!extent || !floor) return;
    const next = storeys[at + 1]?.elevation;
    const top = next === undefined ? extent[5] + SLAB : next - SLAB;
    this.boxAround([
      extent[0],
      extent[1],
      floor.elevation - SLAB,
      extent[3],
      extent[4],
      Math.max(top, floor.elevation + 1),
    ]);
  }

  /**
   * A box around the room whose floor is under a press, along its longest wall, up to its ceiling.
   *
   * @throws Error where no walls close around the place
   */
  async boxAroundRoom(x: number, y: number): Promise<boolean> {
    const { stage } = this.session;
    const hit = stage && (await stage.surfaces.exactHit(stage.rig.ray(x, y)));
    if (!hit) return false;
    const outline = await stage.rooms.around(hit.point);
    if (!outline) throw new Error('No walls close around this place. Tap the floor of a room.');
    const ceiling = await stage.measured.ceilingOver(hit.point);
    this.changeBox(boxAroundOutline(outline, (ceiling ?? hit.point[2] + STOREY) - hit.point[2], AROUND));
    return true;
  }

  /** A box around what is near the place that one turns about: what one sees from there. */
  boxAroundSeen(): void {
    const { stage } = this.session;
    if (!stage || isEmptyBox(stage.extent)) return;
    const { position, target } = stage.rig.pose;
    const reach = Math.min(Math.hypot(...subtract(position, target)) * 0.5, boxDiagonal(stage.extent) / 2);
    const { extent } = stage;
    const side = (axis: number, sign: number) =>
      sign < 0 ? Math.max(extent[axis]!, target[axis]! - reach) : Math.min(extent[axis + 3]!, target[axis]! + reach);
    this.boxAround([side(0, -1), side(1, -1), side(2, -1), side(0, 1), side(1, 1), side(2, 1)]);
  }

  /** What is selected stays whole from now on. */
  keepWhole(): void {
    const { selection } = this.session.store.getState().view;
    if (selection.length === 0) return;
    const { cuts } = this;
    this.set({ ...cuts, whole: withElements(cuts.whole, selection) });
  }

  cutAll(): void {
    this.set({ ...this.cuts, whole: [] });
  }

  removeAll(): void {
    this.set(NO_CUTS);
  }

  private boxAround(box: Box3): void {
    if (!isEmptyBox(box)) this.changeBox(boxAbout(box, AROUND));
  }

  private add(point: Vec3, normal: Vec3): void {
    const { cuts } = this;
    if (this.isFull) return;
    const id = freeId(cuts.planes);
    this.set({ ...cuts, planes: [...cuts.planes, planeAt(id, point, normal)] });
  }
}

function freeId(planes: readonly CutPlane[]): string {
  for (let i = 1; ; i++) if (!planes.some(({ id }) => id === `plane ${i}`)) return `plane ${i}`;
}
