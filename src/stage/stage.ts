import {
  AmbientLight,
  BasicShadowMap,
  Box3 as ThreeBox3,
  Box3Helper,
  Color,
  DirectionalLight,
  type Group,
  HemisphereLight,
  PCFShadowMap,
  Ray,
  Scene,
  Vector3,
  WebGLRenderer,
} from 'three';
import { COARSEST_PIXEL_ERROR, FINEST_PIXEL_ERROR } from '@/core/detail/device';
import { elementFlags, SELECTED, THROUGH } from '@/core/elements/visibility-flags';
import { framingPose, WHOLE_PICTURE, type PictureArea } from '@/core/framing';
import { boxCentre, boxDiagonal, emptyBox, expandByBox, growBox, isEmptyBox, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import type { OptionChoice, OptionSet } from '@/core/options/option-set';
import { placePoint, type Placement } from '@/core/placement/placement';
import type { StageModelSource } from '@/core/project/models';
import { SHOW_ALL, type CameraPose, type ElementRef, type Visibility } from '@/core/viewpoint';
import { CameraRig } from './camera-rig';
import { device, deviceByPointer, drawsInSoftware, isHeadset } from './device-here';
import { person } from './person';
import { StageModel, type Arrival } from './stage-model';
import { TileWork } from './tile-work';

export interface StageHit {
  element: ElementRef;
  name: string;
  /** Project coordinates, metres. */
  point: Vec3;
}

export interface StageEvents {
  onMove(pose: CameraPose, byUser: boolean): void;
  onSettle(pose: CameraPose): void;
  onPick(hit: StageHit | null): void;
  onPoint(point: Vec3 | null): void;
  /** After every drawn frame: overlays follow. */
  onFrame(): void;
  /** Whether something of the models is still on its way. */
  onLoading(busy: boolean): void;
}

const PAPER = new Color('#F1EBE0');
/** How much of the sun's light a shadow takes. */
const SHADOW = 0.55;
/** A device that needs longer than this between frames gets fewer pixels while something moves. */
const SLOW_FRAME_MS = 45;
const SHARE_WHILE_MOVING = 0.5;
const REST_MS = 260;
/** While tiles arrive and nobody moves, the picture is drawn this often at most: what draws cannot load. */
const ARRIVAL_MS = 400;
/** By how much the allowed error changes at once. */
const DETAIL_STEP = 1.25;

/** The model on the screen: loads published revisions, draws on demand, picks. Knows nothing of React. */
export class Stage {
  readonly rig: CameraRig;
  /** What the interface leaves of the picture. */
  freeArea: () => PictureArea = () => WHOLE_PICTURE;
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly sun = new DirectionalLight('#fff1dc', 2.1);
  private readonly work = new TileWork();
  private device = deviceByPointer();
  private pixelError = FINEST_PIXEL_ERROR;
  private models: StageModel[] = [];
  private wanted: StageModelSource[] = [];
  private readonly arriving = new Map<string, Promise<void>>();
  private origin: Vec3 = [0, 0, 0];
  private visibility: Visibility = SHOW_ALL;
  private selection: ElementRef[] = [];
  private mark = SELECTED;
  private options: OptionSet[] = [];
  private fixedOptions: OptionChoice = {};
  private figure: Group | null = null;
  private boxLines: Box3Helper | null = null;
  private frame = 0;
  private busy = false;
  private disposed = false;
  private lastFrame = 0;
  /** Whether the picture is no longer what it should be, and whether that cannot wait until tiles have arrived. */
  private stale = false;
  private urgent = false;
  private shadowsStale = false;
  private lastDraw = 0;
  private coarse = false;
  private restTimer: ReturnType<typeof setTimeout> | undefined;
  private readonly observer: ResizeObserver;

  constructor(
    private readonly element: HTMLElement,
    private readonly events: StageEvents,
  ) {
    const inSoftware = drawsInSoftware();
    this.renderer = new WebGLRenderer({ antialias: !inSoftware, preserveDrawingBuffer: false });
    this.renderer.setPixelRatio(fullPixelRatio());
    this.renderer.shadowMap.enabled = true;
    this.renderer.shadowMap.type = inSoftware ? BasicShadowMap : PCFShadowMap;
    this.renderer.shadowMap.autoUpdate = false;
    this.renderer.domElement.style.cssText = 'display:block;width:100%;height:100%;touch-action:none';
    this.renderer.domElement.setAttribute('aria-hidden', 'true');
    element.append(this.renderer.domElement);
    this.scene.background = PAPER;
    const sky = new HemisphereLight('#fffaf0', '#cdbd9f', 1.35);
    sky.position.set(0, 0, 1);
    this.sun.castShadow = true;
    this.sun.shadow.mapSize.set(2048, 2048);
    this.sun.shadow.bias = -0.0004; // surfaces carry no normals, so only the depth can be shifted
    this.sun.shadow.intensity = 0; // until there is something that casts one
    this.scene.add(sky, new AmbientLight('#ffffff', 0.35), this.sun, this.sun.target);

    this.rig = new CameraRig(element, (x, y) => this.surfaceAt(x, y), {
      onMove: (byUser) => {
        this.keepMoving();
        this.redraw();
        this.events.onMove(this.rig.pose, byUser);
      },
      onSettle: () => this.events.onSettle(this.rig.pose),
      onTap: (x, y) => this.events.onPick(this.pick(x, y)),
      onDoubleTap: (x, y) => {
        const hit = this.pick(x, y);
        if (hit) this.flyToElements([hit.element]);
      },
      onHover: (x, y) => this.hover(x, y),
      onLeave: () => this.events.onPoint(null),
    });
    void isHeadset().then((headset) => {
      if (headset) this.device = device('headset');
    });
    this.observer = new ResizeObserver(() => this.resize());
    this.observer.observe(element);
    this.resize();
  }

  /**
   * Loads the models, nearest zero chosen from the first; keeps those that are loaded or on their way already. When
   * called again before all have arrived, the last call says what shows.
   */
  async setModels(sources: StageModelSource[]): Promise<void> {
    if (this.models.length === 0 && this.arriving.size === 0 && sources[0]) {
      this.origin = placePoint(sources[0].placement, sources[0].offset);
      this.rig.origin = this.origin;
    }
    this.wanted = sources;
    for (const model of this.models.filter(({ source }) => !this.wants(source))) {
      model.dispose();
      this.models = this.models.filter((other) => other !== model);
    }
    await Promise.all(
      sources
        .filter(({ revisionId }) => !this.models.some(({ source }) => source.revisionId === revisionId))
        .map((source) => this.arrival(source)),
    );
    for (const { revisionId, placement } of this.wanted)
      this.models.find(({ source }) => source.revisionId === revisionId)?.place(placement);
    this.placeSun();
    this.changed();
  }

  get loadedModels(): readonly StageModel[] {
    return this.models;
  }

  /** @param through whether what is selected shows through whatever stands before it */
  setState(visibility: Visibility, selection: ElementRef[], through = false): void {
    this.visibility = visibility;
    this.selection = selection;
    this.mark = through ? SELECTED | THROUGH : SELECTED;
    this.applyState();
    this.changed();
  }

  /**
   * The alternatives of which only the chosen ones show; the choice is part of the visibility.
   *
   * @param fixed options that show whatever is chosen
   */
  setOptions(options: OptionSet[], fixed: OptionChoice): void {
    this.options = options;
    this.fixedOptions = fixed;
    this.applyState();
    this.changed();
  }

  /** Tries a model in another place. */
  placeModel(modelId: string, placement: Placement): void {
    this.models.find((model) => model.source.modelId === modelId)?.place(placement);
    this.placeSun();
    this.changed();
  }

  /** Extent of all models in project coordinates. */
  get extent(): Box3 {
    const whole = emptyBox();
    for (const model of this.models) expandByBox(whole, model.extent);
    return whole;
  }

  /** Extent of the models without some elements, such as strays, in project coordinates. */
  extentWithout(except: ElementRef[]): Box3 {
    if (except.length === 0) return this.extent;
    const box = emptyBox();
    for (const model of this.models) {
      const gone = new Set(except.filter((ref) => ref.model === model.source.modelId).map((ref) => ref.guid));
      model.index.guid.forEach((guid, row) => {
        const own = gone.has(guid) ? null : model.elementBox(row);
        if (own && !isEmptyBox(own)) expandByBox(box, own);
      });
    }
    return box;
  }

  /** Draws the edges of a box in project coordinates, or takes them away. */
  showBox(box: Box3 | null): void {
    if (this.boxLines) this.scene.remove(this.boxLines);
    this.boxLines?.dispose();
    this.boxLines = null;
    if (box) {
      const corner = (at: 0 | 3) => new Vector3(...[0, 1, 2].map((axis) => box[at + axis]! - this.origin[axis]!));
      this.boxLines = new Box3Helper(new ThreeBox3(corner(0), corner(3)), '#34497F');
      this.scene.add(this.boxLines);
    }
    this.changed();
  }

  /** Puts a figure of a person, 1.70 m tall, beside what fills the box, or takes it away. */
  showPerson(box: Box3 | null): void {
    if (this.figure) this.scene.remove(this.figure);
    this.figure = null;
    if (box && !isEmptyBox(box)) {
      this.figure = person();
      // At the side that the first view has on its left, on the model's lowest level.
      const place: Vec3 = [box[0] - 0.6, box[1], box[2]];
      this.figure.position.set(...(place.map((value, axis) => value - this.origin[axis]!) as Vec3));
      this.scene.add(this.figure);
    }
    this.changed();
  }

  /** The pose that shows a box whole, seen from where the camera is now. */
  framing(box: Box3, direction?: Vector3): CameraPose {
    const away = direction ?? this.rig.camera.position.clone().sub(this.rig.target);
    if (Math.hypot(away.x, away.y) < 1e-3 * Math.abs(away.z)) away.y = -1e-3 * Math.abs(away.z);
    if (away.lengthSq() < 1e-6) away.set(0.62, -0.86, 0.62);
    const { fov, aspect } = this.rig.camera;
    return framingPose(box, away.toArray(), fov, aspect, this.freeArea());
  }

  /** Flies to where everything is seen, apart from elements that lie out of the way. */
  showWhole(except: ElementRef[] = []): void {
    const box = this.extentWithout(except);
    if (isEmptyBox(box)) return;
    if (this.figure) expandByBox(box, [box[0] - 1, box[1], box[2], box[0], box[1], box[2] + 1.8]);
    this.rig.flyTo(this.framing(box, new Vector3(0.62, -0.86, 0.62)));
  }

  /** @param around metres of its surroundings that come into the picture as well */
  flyToElements(refs: ElementRef[], around = 0): void {
    const box = emptyBox();
    for (const ref of refs) {
      const model = this.models.find((other) => other.source.modelId === ref.model);
      const row = model?.rowOf.get(ref.guid);
      if (model && row !== undefined) expandByBox(box, model.elementBox(row));
    }
    if (!isEmptyBox(box)) this.rig.flyTo(this.framing(growBox(box, around)));
  }

  pick(x: number, y: number): StageHit | null {
    const ray = this.rig.ray(x, y);
    const hits = this.models.flatMap((model) => model.raycast(ray) ?? []).sort((a, b) => a.distance - b.distance);
    const hit = hits[0];
    if (!hit) return null;
    return {
      element: { model: hit.model.source.modelId, guid: hit.model.index.guid[hit.row]! },
      name: hit.model.index.name[hit.row]!,
      point: hit.point,
    };
  }

  /** Whether something stands between the camera and a project point. */
  isCovered(point: Vec3): boolean {
    const { position } = this.rig.camera;
    const local = new Vector3(point[0] - this.origin[0], point[1] - this.origin[1], point[2] - this.origin[2]);
    const distance = position.distanceTo(local);
    const ray = new Ray(position.clone(), local.sub(position).normalize());
    const slack = 0.02 + distance * 0.002; // the point lies on a surface, which must not cover it
    return this.models.some((model) => (model.raycast(ray)?.distance ?? Infinity) < distance - slack);
  }

  /** Where a project point stands on the element, in CSS pixels; null behind the camera. */
  project(point: Vec3): { x: number; y: number } | null {
    const v = new Vector3(point[0] - this.origin[0], point[1] - this.origin[1], point[2] - this.origin[2]).project(
      this.rig.camera,
    );
    if (v.z > 1) return null;
    return { x: ((v.x + 1) / 2) * this.element.clientWidth, y: ((1 - v.y) / 2) * this.element.clientHeight };
  }

  /**
   * The current view as JPEG, without the interface, `width` pixels wide.
   *
   * @param mark a place in project coordinates to ring in the picture
   */
  async picture(width: number, mark: Vec3 | null = null): Promise<Blob> {
    if (this.coarse) this.renderer.setPixelRatio(fullPixelRatio());
    this.coarse = false;
    if (!this.update()) this.castShadows();
    this.draw();
    const source = this.renderer.domElement;
    const height = Math.round((width * source.height) / source.width);
    const canvas = new OffscreenCanvas(width, height);
    const context = canvas.getContext('2d')!;
    context.drawImage(source, 0, 0, width, height);
    const at = mark && this.project(mark);
    if (at) {
      const scale = width / this.element.clientWidth;
      context.beginPath();
      context.arc(at.x * scale, at.y * scale, width / 40, 0, 2 * Math.PI);
      for (const [lineWidth, colour] of [
        [width / 100, '#FCFAF5'],
        [width / 200, '#34497F'],
      ] as const) {
        context.lineWidth = lineWidth;
        context.strokeStyle = colour;
        context.stroke();
      }
    }
    return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.82 });
  }

  dispose(): void {
    this.disposed = true;
    cancelAnimationFrame(this.frame);
    clearTimeout(this.restTimer);
    this.observer.disconnect();
    this.rig.dispose();
    for (const model of this.models) model.dispose();
    this.work.dispose();
    this.renderer.dispose();
    this.renderer.domElement.remove();
  }

  private hoverQueued: { x: number; y: number } | null = null;

  private hover(x: number, y: number): void {
    // One search a frame at most, however fast the mouse reports.
    const idle = this.hoverQueued === null;
    this.hoverQueued = { x, y };
    if (!idle) return;
    requestAnimationFrame(() => {
      const at = this.hoverQueued;
      this.hoverQueued = null;
      if (at && !this.disposed) this.events.onPoint(this.pick(at.x, at.y)?.point ?? null);
    });
  }

  private surfaceAt(x: number, y: number): Vector3 | null {
    const hit = this.pick(x, y);
    return hit
      ? new Vector3(hit.point[0] - this.origin[0], hit.point[1] - this.origin[1], hit.point[2] - this.origin[2])
      : null;
  }

  private applyState(): void {
    const visibility = { ...this.visibility, options: { ...this.visibility.options, ...this.fixedOptions } };
    for (const model of this.models) {
      const flags = elementFlags(
        model.index,
        model.rowOf,
        model.source.modelId,
        visibility,
        this.selection,
        this.options,
        this.mark,
      );
      model.setFlags(flags);
    }
  }

  /** Something stands elsewhere, or shows otherwise. */
  private changed(): void {
    this.shadowsStale = true;
    this.redraw();
  }

  /** The picture is to be drawn in the next frame. */
  private redraw(): void {
    this.stale = true;
    this.urgent = true;
    this.requestFrame();
  }

  /** Something has come in that shows; with others like it, it is drawn when there is time. */
  private arrived(what: Arrival): void {
    if (what !== 'news') this.stale = true;
    if (what === 'surfaces') this.shadowsStale = true;
    this.requestFrame();
  }

  /** Once nothing has moved for a moment, the picture is drawn again in full. */
  private keepMoving(): void {
    clearTimeout(this.restTimer);
    this.restTimer = setTimeout(() => {
      this.lastFrame = 0;
      if (!this.coarse) return;
      this.coarse = false;
      this.renderer.setPixelRatio(fullPixelRatio());
      this.redraw();
    }, REST_MS);
  }

  private adapt(now: number): void {
    const slow = this.lastFrame > 0 && now - this.lastFrame > SLOW_FRAME_MS;
    this.lastFrame = now;
    if (!slow || this.coarse) return;
    this.coarse = true;
    this.renderer.setPixelRatio(fullPixelRatio() * SHARE_WHILE_MOVING);
    this.keepMoving();
  }

  private resize(): void {
    const { clientWidth, clientHeight } = this.element;
    if (clientWidth === 0 || clientHeight === 0) return;
    this.renderer.setSize(clientWidth, clientHeight, false);
    this.rig.resize(clientWidth, clientHeight);
    this.redraw();
  }

  /** The sun from the south-west, its shadows over all models. */
  private placeSun(): void {
    const box = this.extent;
    if (isEmptyBox(box)) return;
    const centre = boxCentre(box).map((value, axis) => value - this.origin[axis]!) as Vec3;
    const radius = Math.max(boxDiagonal(box) / 2, 1);
    this.sun.target.position.set(...centre);
    this.sun.position.set(centre[0] - 0.5 * radius * 2, centre[1] - 0.62 * radius * 2, centre[2] + 0.85 * radius * 2);
    const { camera } = this.sun.shadow;
    Object.assign(camera, { left: -radius, right: radius, top: radius, bottom: -radius, near: 0.1, far: radius * 5 });
    camera.updateProjectionMatrix();
  }

  private wants({ revisionId }: StageModelSource): boolean {
    return !this.disposed && this.wanted.some((source) => source.revisionId === revisionId);
  }

  /** Loads a model once, however often it is asked for meanwhile. */
  private arrival(source: StageModelSource): Promise<void> {
    const underWay = this.arriving.get(source.revisionId);
    if (underWay) return underWay;
    const arrival = StageModel.load(source, this.origin, this.work, (what) => this.arrived(what))
      .then((model) => {
        if (!this.wants(source)) return model.dispose();
        this.models.push(model);
        this.scene.add(model.group);
        this.applyState();
      })
      .finally(() => this.arriving.delete(source.revisionId));
    this.arriving.set(source.revisionId, arrival);
    return arrival;
  }

  private requestFrame(): void {
    if (this.frame || this.disposed) return;
    this.frame = requestAnimationFrame((now) => {
      this.frame = 0;
      if (this.rig.flying || this.lastFrame > 0) this.adapt(now);
      this.rig.step(now);
      const loading = this.update();
      if (!loading) this.castShadows();
      if (this.stale && (this.urgent || !loading || now - this.lastDraw >= ARRIVAL_MS)) this.draw();
      const busy = loading || this.arriving.size > 0;
      if (busy !== this.busy) {
        this.busy = busy;
        this.events.onLoading(busy);
      }
      if (this.rig.flying || loading || this.stale) this.requestFrame();
    });
  }

  /** Asks for the tiles that the view needs. Returns whether some are on their way. */
  private update(): boolean {
    this.fitDepth();
    let loading = false;
    for (const model of this.models)
      loading = (!model.isAway && model.update(this.rig.camera, this.renderer, this.pixelError)) || loading;
    return loading || this.fitTriangles();
  }

  /** Draws the shadows anew with the next picture: once all surfaces are there, because they cost as much as it. */
  private castShadows(): void {
    if (!this.shadowsStale) return;
    this.shadowsStale = false;
    this.renderer.shadowMap.needsUpdate = true;
    this.sun.shadow.intensity = SHADOW;
  }

  private draw(): void {
    this.stale = this.urgent = false;
    this.lastDraw = performance.now();
    this.renderer.render(this.scene, this.rig.camera);
    this.events.onFrame();
  }

  /**
   * Keeps to what the device can draw: coarsens what is asked for while there are too many triangles, refines again once
   * there is much room. Returns whether anything changed.
   */
  private fitTriangles(): boolean {
    const drawn = this.models.reduce((sum, model) => sum + (model.isAway ? 0 : model.triangles), 0);
    const before = this.pixelError;
    if (drawn > this.device.triangles) this.pixelError = Math.min(COARSEST_PIXEL_ERROR, before * DETAIL_STEP);
    else if (drawn < this.device.triangles / 3) this.pixelError = Math.max(FINEST_PIXEL_ERROR, before / DETAIL_STEP);
    return this.pixelError !== before;
  }

  /** Near and far planes around what there is, for the depth buffer's sake. */
  private fitDepth(): void {
    const { camera } = this.rig;
    const box = this.extent;
    const far = isEmptyBox(box)
      ? 1000
      : camera.position.distanceTo(
          new Vector3(...(boxCentre(box).map((value, axis) => value - this.origin[axis]!) as Vec3)),
        ) + boxDiagonal(box);
    camera.far = Math.max(far, 10);
    camera.near = Math.max(0.05, camera.far / 8000);
    camera.updateProjectionMatrix();
  }
}

/** Device pixels to a CSS pixel when nothing moves. */
function fullPixelRatio(): number {
  return Math.min(devicePixelRatio, 2);
}
