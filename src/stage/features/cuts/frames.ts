import {
  BufferAttribute,
  BufferGeometry,
  Color,
  ConeGeometry,
  CylinderGeometry,
  Group,
  LineBasicMaterial,
  LineLoop,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  Quaternion,
  TorusGeometry,
  Vector3,
  type Scene,
} from 'three';
import { boxAxes, boxFaces, NO_CUTS, turnAxis, type CutBox, type CutPlane, type Cuts } from '@/core/cut/cuts';
import { boxCorner, isEmptyBox, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import { inPlane, inSpace, planeFrame } from '@/core/section/plane';
import type { CameraRig } from '../../camera/camera-rig';
import type { CoordinateFrame } from '../../coordinate-frame';
import type { Feature } from '../feature';

const MADDER = new Color('#9C3B2E');
const SOFT_INK = new Color('#6A6257');
/** Pixels: length of an arrow, radius of a ring. */
const ARROW = 74;
const RING = 52;
/** So near to a handle, in pixels, a press takes hold of it: a finger's width for touch. */
const REACH = { mouse: 12, pen: 14, touch: 24 };

/** What a hand can take hold of: the arrow or the ring of a plane, the arrow of one face of the box, or the ring that turns it. */
export type CutHandle =
  | { part: 'arrow'; plane: CutPlane; at: Vec3; direction: Vec3 }
  | { part: 'ring'; plane: CutPlane; at: Vec3; axis: Vec3 }
  | { part: 'face'; face: number; at: Vec3; direction: Vec3 }
  | { part: 'turn'; at: Vec3; axis: Vec3 };

/** The frames of cuts, and their handles while the tool is in hand. */
export class CutFrames implements Feature {
  private readonly group = new Group();
  private readonly line = new LineBasicMaterial({ color: SOFT_INK, transparent: true, opacity: 0.8 });
  private readonly solid = new MeshBasicMaterial({ color: MADDER, depthTest: false, transparent: true });
  private readonly arrowParts = [new CylinderGeometry(2, 2, ARROW - 18, 8), new ConeGeometry(8, 18, 16)] as const;
  private readonly ring = new TorusGeometry(RING, 2, 6, 48);
  private handles: { handle: CutHandle; object: Group }[] = [];
  private cuts: Cuts = NO_CUTS;
  private isInHand = false;

  constructor(
    scene: Scene,
    private readonly frame: CoordinateFrame,
    private readonly extent: () => Box3,
  ) {
    this.arrowParts[0].translate(0, (ARROW - 18) / 2, 0);
    this.arrowParts[1].translate(0, ARROW - 9, 0);
    scene.add(this.group);
  }

  show(cuts: Cuts): void {
    this.cuts = cuts;
    this.rebuild();
  }

  /** Shows handles, or none. */
  take(isInHand: boolean): void {
    this.isInHand = isInHand;
    this.rebuild();
  }

  /** Models stand elsewhere, so that frames have other sizes. */
  rebuild(): void {
    this.clear();
    for (const plane of this.cuts.planes) {
      if (!plane.isOn) continue;
      if (plane.isFramed) this.drawFrame(plane);
      if (!this.isInHand) continue;
      const at = this.onPlane(plane);
      this.addArrow({ part: 'arrow', plane, at, direction: plane.normal });
      this.addRing({ part: 'ring', plane, at, axis: turnAxis(plane) });
    }
    const { box } = this.cuts;
    if (!box?.isOn) return;
    if (box.isFramed) this.drawEdges(box);
    if (!this.isInHand) return;
    this.addRing({ part: 'turn', at: box.middle, axis: [0, 0, 1] });
    boxFaces(box).forEach(({ plane: { normal } }, face) => {
      const half = box.size[face >> 1]! / 2;
      const at = box.middle.map((one, axis) => one + normal[axis]! * half) as Vec3;
      this.addArrow({ part: 'face', face, at, direction: normal });
    });
  }

  /** Keeps handles as large on the screen, wherever the camera is. */
  fit(rig: Pick<CameraRig, 'camera' | 'metresPerPixel'>): void {
    for (const { object } of this.handles) {
      object.scale.setScalar(rig.metresPerPixel(rig.camera.position.distanceTo(object.position)));
      object.updateMatrixWorld(true);
    }
  }

  /**
   * The handle under a place on the screen, the nearest of several.
   *
   * @param project where a place on the stage stands on the screen, null behind the camera
   */
  handleAt(
    x: number,
    y: number,
    kind: keyof typeof REACH,
    project: (at: Vector3) => { x: number; y: number } | null,
  ): CutHandle | null {
    let best: CutHandle | null = null;
    let least = REACH[kind];
    for (const { handle, object } of this.handles) {
      const corners = 'axis' in handle ? ringCorners() : [new Vector3(), new Vector3(0, ARROW, 0)];
      const places = corners.map((corner) => project(corner.applyMatrix4(object.matrixWorld)));
      for (let i = 0; i + 1 < places.length; i++) {
        const [a, b] = [places[i], places[i + 1]];
        const far = a && b ? distanceToSegment(x, y, a, b) : Infinity;
        if (far < least) [best, least] = [handle, far];
      }
    }
    return best;
  }

  dispose(): void {
    this.clear();
    this.group.removeFromParent();
    for (const part of [...this.arrowParts, this.ring, this.line, this.solid]) part.dispose();
  }

  private clear(): void {
    for (const { object } of this.handles) object.removeFromParent();
    this.handles = [];
    for (const child of [...this.group.children]) {
      child.removeFromParent();
      if (child instanceof LineLoop || child instanceof LineSegments) (child.geometry as BufferGeometry).dispose();
    }
  }

  /** The middle of a plane's frame, put onto the plane. */
  private onPlane(plane: CutPlane): Vec3 {
    const frame = planeFrame(plane);
    return inSpace(frame, inPlane(frame, plane.middle));
  }

  /** A rectangle in the plane that reaches a little beyond all models. */
  private drawFrame(plane: CutPlane): void {
    const extent = this.extent();
    if (isEmptyBox(extent)) return;
    const frame = planeFrame(plane);
    const places = Array.from({ length: 8 }, (_, i) => inPlane(frame, boxCorner(extent, i)));
    const [xs, ys] = [places.map(([x]) => x), places.map(([, y]) => y)];
    const around = 0.03 * Math.max(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys));
    const [x0, x1] = [Math.min(...xs) - around, Math.max(...xs) + around];
    const [y0, y1] = [Math.min(...ys) - around, Math.max(...ys) + around];
    const corners = [[x0, y0], [x1, y0], [x1, y1], [x0, y1]] as const; // prettier-ignore
    this.group.add(new LineLoop(this.lineThrough(corners.map((corner) => inSpace(frame, corner))), this.line));
  }

  private drawEdges({ middle, size, turn }: CutBox): void {
    const axes = boxAxes(turn);
    const corner = (i: number) =>
      [0, 1, 2].map((k) =>
        axes.reduce((sum, axis, a) => sum + (axis[k]! * size[a]! * ((i >> a) & 1 ? 1 : -1)) / 2, middle[k]!),
      ) as Vec3;
    const edges = [0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) =>
      [1, 2, 4].flatMap((bit) => (i & bit ? [] : [corner(i), corner(i | bit)])),
    );
    this.group.add(new LineSegments(this.lineThrough(edges), this.line));
  }

  private lineThrough(points: readonly Vec3[]): BufferGeometry {
    const corners = points.flatMap((point) => this.frame.toStage(point).toArray());
    return new BufferGeometry().setAttribute('position', new BufferAttribute(Float32Array.from(corners), 3));
  }

  private addArrow(handle: Extract<CutHandle, { direction: Vec3 }>): void {
    const object = new Group();
    for (const part of this.arrowParts) object.add(new Mesh(part, this.solid));
    object.quaternion.copy(new Quaternion().setFromUnitVectors(new Vector3(0, 1, 0), new Vector3(...handle.direction)));
    this.addHandle(handle, object);
  }

  private addRing(handle: Extract<CutHandle, { axis: Vec3 }>): void {
    const object = new Group();
    object.add(new Mesh(this.ring, this.solid));
    object.quaternion.copy(new Quaternion().setFromUnitVectors(new Vector3(0, 0, 1), new Vector3(...handle.axis)));
    this.addHandle(handle, object);
  }

  private addHandle(handle: CutHandle, object: Group): void {
    this.frame.toStage(handle.at, object.position);
    object.traverse((part) => {
      part.renderOrder = 20;
      part.raycast = () => undefined;
    });
    this.group.add(object);
    this.handles.push({ handle, object });
  }
}

function ringCorners(): Vector3[] {
  return Array.from({ length: 33 }, (_, i) => {
    const turn = (i * Math.PI) / 16;
    return new Vector3(RING * Math.cos(turn), RING * Math.sin(turn), 0);
  });
}

function distanceToSegment(x: number, y: number, a: { x: number; y: number }, b: { x: number; y: number }): number {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const length2 = dx * dx + dy * dy;
  const share = length2 > 0 ? Math.min(1, Math.max(0, ((x - a.x) * dx + (y - a.y) * dy) / length2)) : 0;
  return Math.hypot(x - a.x - share * dx, y - a.y - share * dy);
}
