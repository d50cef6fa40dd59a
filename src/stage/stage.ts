import { Scene, Vector3, WebGLRenderer } from 'three';
import { elementColours } from '@/core/elements/element-colours';
import { elementFlags, SELECTED, THROUGH, type ElementView } from '@/core/elements/element-flags';
import type { ElementRef } from '@/core/elements/element-ref';
import type { Where } from '@/core/elements/element-set';
import { rowsWhere, type ModelElements } from '@/core/elements/match-elements';
import { framingPose, WHOLE_PICTURE, type PictureArea } from '@/core/framing';
import { boxCentre, boxDiagonal, emptyBox, expandByBox, growBox, isEmptyBox, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import type { Eyes } from '@/core/meeting/eyes';
import type { OptionChoice, OptionSet } from '@/core/options/option-set';
import type { Placement } from '@/core/placement/placement';
import type { StageModelSource } from '@/core/project/models';
import type { SnapKind } from '@/core/snap/choose-snap';
import type { Hindrance } from '@/core/walk/walk';
import { spreadGroups, spreadOffsets } from '@/core/spread/spread-offsets';
import type { CameraPose } from '@/core/view/camera';
import { INITIAL_VIEW, type ViewState } from '@/core/view/view-state';
import { CameraRig } from './camera/camera-rig';
import { Turning } from './camera/turning';
import { windowPose } from './camera/window-pose';
import { CoordinateFrame } from './coordinate-frame';
import { DepthRange } from './depth-range';
import { drawsInSoftware } from './device';
import { Background } from './features/background';
import { ContactShade } from './features/contact-shade';
import { CutFrames, type CutHandle } from './features/cuts/frames';
import { Sections } from './features/cuts/sections';
import { Figure } from './features/figure';
import { Figures } from './features/figures';
import { Leaders, type Leader } from './features/leaders';
import { Light, type Sun } from './features/light';
import { Marks } from './features/marks/marks';
import { Measures, type Aim } from './features/measures/measures';
import { Models } from './features/models';
import { Outline } from './features/outline';
import { FrameLoop } from './frame-loop';
import { CutUniforms } from './materials/cut-uniforms';
import { LookUniforms } from './materials/look-uniforms';
import { PointerArbiter } from './input/pointer-arbiter';
import type { Press } from './input/pointer-taker';
import type { StageModel } from './model/stage-model';
import { openness } from './openness';
import { pixelRatio, type Resolution } from './resolution';
import { MeasuredSurfaces } from './surfaces/measured-surfaces';
import { Rooms } from './surfaces/rooms';
import { Snapping, type PlaceAt } from './surfaces/snapping';
import { Surfaces } from './surfaces/surfaces';
import { takeAlong, type AboutTaken } from './take-along';
import { GamePad } from './walking/game-pad';
import { Ground } from './walking/ground';
import { WalkingHands } from './walking/hands';
import { Walking, type Gait } from './walking/walking';
import { WorkerPool } from './workers/worker-pool';

export interface StageHit {
  element: ElementRef;
  name: string;
  /** Project coordinates, metres: where the element belongs, also while it stands beside its place. */
  point: Vec3;
}

export interface StageEvents {
  onMove?(pose: CameraPose, byHand: boolean): void;
  onRest?(pose: CameraPose, byHand: boolean): void;
  /** After every drawn frame: overlays follow. */
  onFrame?(): void;
  /** Whether something of the models is still on its way. */
  onLoading?(busy: boolean): void;
  /** Somebody stands or flies in the model, or does not any more. */
  onGait?(gait: Gait | null): void;
  /** What keeps somebody who walks from going on. */
  onHindrance?(by: Hindrance | null): void;
  /** Something could not be done; the stage goes on without it. */
  onTrouble?(error: Error): void;
}

/** The parts of the view that the stage shows; the camera is the rig's. */
export type StageView = ElementView &
  Pick<ViewState, 'colouring' | 'spread' | 'measures' | 'marks' | 'light' | 'style'>;

/** What changes which elements a section is made of. */
const IN_SECTIONS = ['visibility', 'options', 'fades'] as const;
const ELEMENT_PARTS = ['visibility', 'options', 'fades', 'selection'] as const;

const FADE_MS = 260;
/** From where a whole is looked at first. */
const FIRST_DIRECTION = new Vector3(0.62, -0.86, 0.62);

/** The model on the screen: a frame loop, a coordinate frame, and features. Knows nothing of React. */
export class Stage {
  readonly frame = new CoordinateFrame();
  readonly rig: CameraRig;
  readonly pointers: PointerArbiter;
  readonly surfaces: Surfaces;
  /** What the interface leaves of the picture. */
  freeArea: () => PictureArea = () => WHOLE_PICTURE;
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly pool = new WorkerPool();
  private readonly loop: FrameLoop;
  private readonly background: Background;
  private readonly contactShade: ContactShade;
  private readonly look = new LookUniforms();
  private readonly light: Light;
  private sun: Sun | null = null;
  private isDim = false;
  private resolution: Resolution = 'usual';
  private readonly models: Models;
  private readonly outline: Outline;
  private readonly figure: Figure;
  private readonly figures: Figures;
  private readonly leaders: Leaders;
  readonly sections: Sections;
  private readonly cutFrames: CutFrames;
  readonly measures: Measures;
  readonly marks: Marks;
  /** What can be measured from a single place. */
  readonly measured: MeasuredSurfaces;
  readonly rooms: Rooms;
  readonly walking: Walking;
  private readonly walkingHands: WalkingHands;
  private readonly gamePad: GamePad;
  private readonly snapping: Snapping;
  private readonly cuts = new CutUniforms();
  private readonly depth: DepthRange;
  private view: StageView = INITIAL_VIEW;
  private mark = SELECTED;
  private options: readonly OptionSet[] = [];
  private fixedOptions: OptionChoice = {};
  private facts: (model: string) => ModelElements['facts'] = () => undefined;
  private isBusy = false;
  private doShadowsWait = false;
  private stillPicture: HTMLCanvasElement | null = null;
  private readonly observer: ResizeObserver;

  constructor(
    private readonly element: HTMLElement,
    private readonly events: StageEvents,
  ) {
    const inSoftware = drawsInSoftware();
    this.renderer = new WebGLRenderer({ antialias: !inSoftware, preserveDrawingBuffer: false });
    this.drawCoarsely(false);
    this.renderer.domElement.style.cssText = 'display:block;width:100%;height:100%;touch-action:none';
    this.renderer.domElement.setAttribute('aria-hidden', 'true');
    element.append(this.renderer.domElement);
    this.background = new Background(this.scene);
    this.loop = new FrameLoop({
      step: (now) => this.step(now),
      update: () => this.update(),
      draw: () => this.draw(),
      rested: () => this.rested(),
      setCoarse: (isCoarse) => this.drawCoarsely(isCoarse),
    });
    this.rig = new CameraRig(element, this.frame, {
      onMove: (byHand) => {
        this.loop.moving();
        this.events.onMove?.(this.rig.pose, byHand);
      },
      onRest: (byHand) => this.events.onRest?.(this.rig.pose, byHand),
      onLeap: () => this.fadeOver(),
    });
    this.pointers = new PointerArbiter(element, new Turning(this.rig, element, (x, y) => this.surfaceAt(x, y)));
    this.contactShade = new ContactShade(this.scene, () => this.loop.redraw());
    this.light = new Light(this.scene, this.renderer, this.frame, inSoftware);
    this.models = new Models(this.scene, this.renderer, this.rig, this.light, this.pool, this.cuts, this.look, {
      onArrival: (what) => {
        if (what === 'surfaces') this.light.invalidate();
        this.loop.arrived(what !== 'news');
      },
      onModels: () => this.modelsChanged(),
    });
    this.outline = new Outline(this.scene, this.frame);
    this.figure = new Figure(this.scene, this.frame);
    this.figures = new Figures(this.scene, this.frame);
    this.leaders = new Leaders(this.scene);
    this.cutFrames = new CutFrames(this.scene, this.frame, () => this.extent);
    this.sections = new Sections(() => this.models.loaded, this.frame, this.cuts, this.pool, {
      onSection: () => this.loop.redraw(),
      onTrouble: (error) => this.events.onTrouble?.(error),
    });
    this.depth = new DepthRange(this.rig, this.models);
    this.surfaces = new Surfaces(() => this.models.loaded, this.frame, this.pool);
    this.snapping = new Snapping(this.surfaces, this.frame, this.sections);
    this.measured = new MeasuredSurfaces(this.surfaces, this.frame, (ref) => this.snapping.featuresOf(ref));
    this.rooms = new Rooms(() => this.models.loaded, this.frame, this.pool);
    const ground = new Ground(() => this.models.loaded, this.frame, this.surfaces);
    this.walking = new Walking(this.rig, ground, {
      onGait: (gait) => this.events.onGait?.(gait),
      onHindrance: (by) => this.events.onHindrance?.(by),
      onWish: () => this.loop.redraw(),
    });
    this.walkingHands = new WalkingHands(this.walking);
    this.gamePad = new GamePad(this.walking);
    this.pointers.base.push(this.walkingHands);
    this.measures = new Measures(element, this.frame, {
      camera: () => this.rig.camera,
      drawn: () => this.still(),
      isBehind: (point) => this.isCovered(point),
      free: () => this.freeArea(),
    });
    this.marks = new Marks(
      element,
      this.scene,
      this.frame,
      () => this.rig.pose,
      () => this.loop.redraw(),
    );
    this.observer = new ResizeObserver(() => this.resize());
    this.observer.observe(element);
    this.applyStyle();
    this.resize();
  }

  /** @see Models.set */
  async setModels(sources: StageModelSource[]): Promise<void> {
    await this.models.set(sources);
  }

  /** Whether something of the models is still on its way. */
  get isLoading(): boolean {
    return this.isBusy;
  }

  get loadedModels(): readonly StageModel[] {
    return this.models.loaded;
  }

  /**
   * Shows parts of a view; what is the same as before costs nothing.
   *
   * @param through whether what is selected shows through whatever stands before it
   */
  show(view: Partial<StageView>, through = false): void {
    const before = this.view;
    const mark = through ? SELECTED | THROUGH : SELECTED;
    const isMarkedAnew = mark !== this.mark;
    this.mark = mark;
    this.view = { ...before, ...view };
    const changed = (name: keyof StageView) => this.view[name] !== before[name];
    const isSpreadAnew = changed('spread');
    if (isSpreadAnew) this.applySpread();
    const isCutAnew = changed('cuts');
    const isWholeAnew = isCutAnew && !isSame(this.view.cuts.whole, before.cuts.whole);
    const areElementsAnew = isMarkedAnew || isWholeAnew || ELEMENT_PARTS.some(changed);
    if (areElementsAnew) this.applyElements();
    const areColoursAnew = changed('colouring');
    if (areColoursAnew) this.applyColours();
    if (isCutAnew) {
      this.sections.show(this.view.cuts);
      this.cutFrames.show(this.view.cuts);
    }
    if (isCutAnew || isSpreadAnew || changed('measures'))
      this.measures.show(this.view.measures, this.view.cuts, this.view.spread !== null);
    if (isSpreadAnew || isWholeAnew || IN_SECTIONS.some(changed)) this.sections.invalidate();
    if (isCutAnew || changed('marks')) this.marks.show(this.view.marks, this.view.cuts);
    if (changed('light')) this.applyLight();
    if (changed('style')) this.applyStyle();
    if (areElementsAnew || isSpreadAnew) this.changed();
    else if (areColoursAnew) this.loop.redraw();
    else if (isCutAnew) this.cutMoved();
  }

  /**
   * The alternatives of which only the chosen ones show; the choice is part of the view.
   *
   * @param fixed options that show whatever is chosen
   */
  setOptions(options: readonly OptionSet[], fixed: OptionChoice): void {
    this.options = options;
    this.fixedOptions = fixed;
    this.applyElements();
    this.sections.invalidate();
    this.changed();
  }

  /** Where rules find the facts of each model. To be called again when more have arrived. */
  setFacts(facts: (model: string) => ModelElements['facts']): void {
    this.facts = facts;
    this.applyElements();
    this.applyColours();
    this.sections.invalidate();
    this.changed();
  }

  /** Where the sun stands over the place, as long as the light is the sun's; null for the even light of a table. */
  setSun(sun: Sun | null): void {
    this.sun = sun;
    this.applyLight();
  }

  /** Whether the room is dim: what the model stands on is dark then. */
  setDim(isDim: boolean): void {
    this.isDim = isDim;
    this.applyStyle();
  }

  setResolution(resolution: Resolution): void {
    this.resolution = resolution;
    this.drawCoarsely(false);
    this.resize();
  }

  /** Tries a model in another place. */
  placeModel(modelId: string, placement: Placement): void {
    this.models.find(modelId)?.place(placement);
    this.modelsChanged();
  }

  get extent(): Box3 {
    return this.models.extent;
  }

  /** Extent of what shows, in project coordinates. */
  get shownExtent(): Box3 {
    const box = emptyBox();
    for (const model of this.models.loaded) {
      if (model.isAway) continue;
      for (let row = 0; row < model.index.count; row++) {
        if (model.isHidden(row)) continue;
        const own = movedBox(model, row);
        if (!isEmptyBox(own)) expandByBox(box, own);
      }
    }
    return box;
  }

  extentWithout(except: readonly ElementRef[]): Box3 {
    return this.models.extentWithout(except);
  }

  /** Shows the handles of cuts while somebody has that tool in hand. */
  takeCuts(isInHand: boolean): void {
    this.cutFrames.take(isInHand);
    this.loop.redraw();
  }

  /** A client position in CSS pixels of the stage. */
  within({ x, y }: Pick<Press, 'x' | 'y'>): [number, number] {
    const { left, top } = this.element.getBoundingClientRect();
    return [x - left, y - top];
  }

  /** The handle of a cut under a client position. */
  cutHandleAt(press: Press): CutHandle | null {
    return this.cutFrames.handleAt(...this.within(press), press.kind, (at) => this.onScreen(at));
  }

  /**
   * What is meant under a client position; null where nothing is.
   *
   * @param reach pixels within which something is meant @param from the place before
   */
  placeAt(x: number, y: number, kinds: ReadonlySet<SnapKind>, reach: number, from: Vec3 | null): PlaceAt | null {
    // What stands beside its place has no measures.
    if (this.view.spread) return null;
    const ray = this.rig.ray(x, y);
    // A pixel is as wide as it is far before the camera, not along the line of sight.
    const lean = this.rig.camera.getWorldDirection(new Vector3()).dot(ray.direction);
    return this.snapping.at({
      ray,
      metresPerPixel: (along) => this.rig.metresPerPixel(along * lean),
      kinds,
      reach,
      from,
    });
  }

  /** Loads what is needed to say exactly what is meant under a client position. */
  async sharpen(x: number, y: number): Promise<void> {
    const hit = await this.surfaces.exactHit(this.rig.ray(x, y));
    if (hit) await this.surfaces.trianglesFor(hit.element);
  }

  /** The measure whose card lies under a client position. */
  measureAt(x: number, y: number): string | null {
    const { left, top } = this.bounds;
    return this.measures.cardAt(x - left, y - top);
  }

  /** @see takeAlong */
  takeAlong(format: 'glb' | 'ifc', about: AboutTaken, only: string | null = null): Promise<Uint8Array<ArrayBuffer>> {
    return takeAlong(this.models.loaded, this.frame, this.pool, format, about, only);
  }

  /** Where the stage stands in the window. */
  get bounds(): DOMRect {
    return this.element.getBoundingClientRect();
  }

  /** Marks a place that somebody points at, or no place. */
  showAim(aim: Aim | null): void {
    if (!aim?.isCovered) this.stillPicture = null;
    this.measures.showAim(aim);
  }

  /** Shows others who stand in the model, by participant. */
  showPeople(people: Readonly<Record<string, Eyes>>): void {
    this.figures.show(people);
    this.loop.redraw();
  }

  /** Where the name of somebody's figure belongs on the screen, in CSS pixels of the stage; null where none shows. */
  nameplaceOf(id: string): { x: number; y: number } | null {
    const head = this.figures.headOf(id);
    return head && this.onScreen(head);
  }

  /** Draws the edges of a box in project coordinates, or takes them away. */
  showBox(box: Box3 | null): void {
    this.outline.show(box);
    this.changed();
  }

  /** Puts a figure of a person, 1.70 m tall, beside what fills the box, or takes it away. */
  showPerson(box: Box3 | null): void {
    this.figure.stand(box);
    this.changed();
  }

  /** The pose that shows a box whole, seen from where the camera is now. */
  framing(box: Box3, direction?: Vector3): CameraPose {
    const away = direction?.clone() ?? this.rig.camera.position.clone().sub(this.rig.target);
    if (Math.hypot(away.x, away.y) < 1e-3 * Math.abs(away.z)) away.y = -1e-3 * Math.abs(away.z);
    if (away.lengthSq() < 1e-6) away.copy(FIRST_DIRECTION);
    const { fov, aspect } = this.rig;
    const pose = framingPose(box, away.toArray(), fov, aspect, this.freeArea());
    return this.rig.isParallel ? { ...pose, parallel: true } : pose;
  }

  /** @see windowPose */
  windowPose(from: { x: number; y: number }, to: { x: number; y: number }): CameraPose | null {
    return windowPose(this.rig, this.bounds, from, to, (x, y) => this.surfaceAt(x, y));
  }

  /** From where everything is seen, apart from elements that lie out of the way; null while nothing is there. */
  wholePose(except: readonly ElementRef[] = []): CameraPose | null {
    const box = this.spreadExtent() ?? this.extentWithout(except);
    if (isEmptyBox(box)) return null;
    if (this.figure.isThere) expandByBox(box, [box[0] - 1, box[1], box[2], box[0], box[1], box[2] + 1.8]);
    return this.framing(box, FIRST_DIRECTION);
  }

  /** @param around metres of their surroundings that come into the picture as well */
  poseOf(wheres: readonly Where[], around = 0): CameraPose | null {
    const box = this.boxOf(wheres);
    return isEmptyBox(box) ? null : this.framing(growBox(box, around));
  }

  /** Flies to where everything is seen. */
  showWhole(except: readonly ElementRef[] = []): void {
    const pose = this.wholePose(except);
    if (pose) this.rig.flights.flyTo(pose);
  }

  flyToElements(wheres: readonly Where[], around = 0): void {
    const pose = this.poseOf(wheres, around);
    if (pose) this.rig.flights.flyTo(pose);
  }

  /** Box about elements where they are seen, in project coordinates. */
  boxOf(wheres: readonly Where[]): Box3 {
    const box = emptyBox();
    for (const model of this.models.loaded)
      for (const row of rowsWhere(wheres, this.elementsOf(model))) expandByBox(box, movedBox(model, row));
    return box;
  }

  /** Number of elements, of all models, that a rule names. */
  count(wheres: readonly Where[]): number {
    return this.models.loaded.reduce((sum, model) => sum + rowsWhere(wheres, this.elementsOf(model)).length, 0);
  }

  /** The nearest thing under a client position that shows and is not looked through. */
  pick(x: number, y: number): StageHit | null {
    const hit = this.hitAt(x, y);
    if (!hit) return null;
    return {
      element: hit.model.refOf(hit.row),
      name: hit.model.index.name[hit.row]!,
      point: hit.point,
    };
  }

  /** Whether something stands between the camera and a place. @param element what the place is on */
  isCovered(point: Vec3, element?: ElementRef | null): boolean {
    const { ray, distance } = this.rig.sightTo(this.seenAt(point, element));
    const slack = 0.02 + distance * 0.002; // the point lies on a surface, which must not cover it
    return this.models.loaded.some((model) => (model.raycast(ray)?.distance ?? Infinity) < distance - slack);
  }

  /** Whether a place is cut away, and with it what stands at it. @param element what the place is on */
  isCutAway(point: Vec3, element?: ElementRef | null): boolean {
    const model = element && this.models.find(element.model);
    const row = model ? model.rowOf.get(element.guid) : undefined;
    // A little behind where it is: what was put on the face of a cut stays.
    const at = this.seenAt(point, element);
    const { ray, distance } = this.rig.sightTo(at);
    at.addScaledVector(ray.direction, 0.002 * distance);
    return model && row !== undefined ? model.isCutAway(row, at) : this.cuts.isAway(at);
  }

  /**
   * Where a place stands on the screen, in CSS pixels of the stage; null behind the camera.
   *
   * @param point project coordinates
   * @param element what it is on: where that stands beside its place, so does the point
   */
  project(point: Vec3, element?: ElementRef | null): { x: number; y: number } | null {
    return this.onScreen(this.seenAt(point, element));
  }

  /** The current view as a canvas, without the interface, `width` pixels wide. */
  snapshot(width: number): OffscreenCanvas {
    this.loop.drawNow();
    const source = this.renderer.domElement;
    const height = Math.round((width * source.height) / source.width);
    const canvas = new OffscreenCanvas(width, height);
    const context = canvas.getContext('2d')!;
    context.drawImage(source, 0, 0, width, height);
    this.measures.paintInto(context, width / this.element.clientWidth);
    this.marks.paintInto(context, width / this.element.clientWidth);
    return canvas;
  }

  /**
   * The current view as a canvas, drawn anew so many times as large as it shows, as far as the graphics card can.
   *
   * @param withMarks whether measures and what was drawn over it are in it
   */
  largeSnapshot(times: number, withMarks: boolean): OffscreenCanvas {
    const { clientWidth, clientHeight } = this.element;
    const most = this.renderer.capabilities.maxTextureSize;
    const ratio = Math.min(times, most / clientWidth, most / clientHeight);
    const before = this.renderer.getPixelRatio();
    this.renderer.setPixelRatio(ratio);
    this.renderer.setSize(clientWidth, clientHeight, false);
    this.render();
    const source = this.renderer.domElement;
    const canvas = new OffscreenCanvas(source.width, source.height);
    const context = canvas.getContext('2d')!;
    context.drawImage(source, 0, 0);
    if (withMarks) {
      this.measures.paintInto(context, ratio);
      this.marks.paintInto(context, ratio);
    }
    this.renderer.setPixelRatio(before);
    this.renderer.setSize(clientWidth, clientHeight, false);
    this.loop.redraw();
    return canvas;
  }

  /** Pixels of the stage to one of a snapshot. */
  snapshotScale(width: number): number {
    return width / this.element.clientWidth;
  }

  dispose(): void {
    this.loop.stop();
    this.observer.disconnect();
    this.pointers.dispose();
    this.walkingHands.dispose();
    this.gamePad.dispose();
    this.rig.dispose();
    for (const feature of [
      this.models,
      this.light,
      this.background,
      this.contactShade,
      this.outline,
      this.figure,
      this.figures,
      this.leaders,
      this.sections,
      this.cutFrames,
      this.measures,
      this.marks,
    ])
      feature.dispose();
    this.pool.dispose();
    this.renderer.dispose();
    this.renderer.domElement.remove();
  }

  /** A copy of the picture, which stays while a finger is down: what draws in WebGL forgets it after the frame. */
  private still(): HTMLCanvasElement {
    if (!this.stillPicture) {
      const source = this.renderer.domElement;
      const canvas = Object.assign(document.createElement('canvas'), { width: source.width, height: source.height });
      this.renderer.render(this.scene, this.rig.camera);
      canvas.getContext('2d')!.drawImage(source, 0, 0);
      this.stillPicture = canvas;
    }
    return this.stillPicture;
  }

  /** Lets the picture as it is now fade away over the next one. */
  private fadeOver(): void {
    // Where a picture takes half a second, nobody waits for one more.
    if (drawsInSoftware()) return;
    const before = this.still();
    this.stillPicture = null;
    before.style.cssText = 'position:absolute;inset:0;width:100%;height:100%;pointer-events:none';
    this.element.append(before);
    before.animate([{ opacity: 1 }, { opacity: 0 }], { duration: FADE_MS, fill: 'forwards' }).onfinish = () =>
      before.remove();
  }

  private onScreen(at: Vector3): { x: number; y: number } | null {
    const v = at.project(this.rig.camera);
    if (v.z > 1) return null;
    return { x: ((v.x + 1) / 2) * this.element.clientWidth, y: ((1 - v.y) / 2) * this.element.clientHeight };
  }

  private hitAt(x: number, y: number) {
    const ray = this.rig.ray(x, y);
    const hits = this.models.loaded.flatMap((model) => model.raycast(ray) ?? []);
    return hits.sort((a, b) => a.distance - b.distance)[0];
  }

  private surfaceAt(x: number, y: number): Vector3 | null {
    return this.hitAt(x, y)?.seen ?? null;
  }

  private seenAt(point: Vec3, element: ElementRef | null | undefined): Vector3 {
    const at = this.frame.toStage(point);
    const model = element && this.models.find(element.model);
    const row = model ? model.rowOf.get(element.guid) : undefined;
    return model && row !== undefined ? at.add(new Vector3(...model.offsetOf(row))) : at;
  }

  private elementsOf(model: StageModel): ModelElements {
    return { ...model.elements, facts: this.facts(model.source.modelId) };
  }

  private applyElements(): void {
    const view = { ...this.view, options: { ...this.view.options, ...this.fixedOptions } };
    for (const model of this.models.loaded)
      model.setFlags(elementFlags(this.elementsOf(model), view, this.options, this.mark));
  }

  private applyColours(): void {
    for (const model of this.models.loaded) model.setColours(elementColours(this.elementsOf(model), this.view));
  }

  private applySpread(): void {
    const { spread } = this.view;
    const loaded = this.models.loaded;
    if (!spread) {
      for (const model of loaded) model.setOffsets(null);
      this.leaders.show([]);
    } else {
      const extent = this.extent;
      const from = emptyBox();
      for (const model of loaded)
        for (const row of rowsWhere(spread.from, this.elementsOf(model))) expandByBox(from, model.elementBox(row));
      const frame = {
        extent,
        centre: boxCentre(isEmptyBox(from) ? extent : from),
        ...spreadGroups(loaded.map(({ index }) => index)),
      };
      for (const model of loaded)
        model.setOffsets(spreadOffsets(spread, { index: model.index, boxOf: (row) => model.elementBox(row) }, frame));
      this.leaders.show(loaded.flatMap((model) => this.leadersOf(model)));
    }
    this.light.reach(this.spreadExtent() ?? this.extent);
    this.depth.invalidate();
  }

  /** Lines from where elements stand to where they belong. */
  private leadersOf(model: StageModel): Leader[] {
    return [...model.index.guid.keys()].flatMap((row): Leader[] => {
      const box = model.elementBox(row);
      const offset = model.offsetOf(row);
      if (isEmptyBox(box) || model.isHidden(row) || Math.hypot(...offset) < 0.05) return [];
      const to = this.frame.toStage(boxCentre(box)).toArray();
      const from = to.map((value, axis) => value + offset[axis]!) as Vec3;
      return [{ from, to, weight: boxDiagonal(box) }];
    });
  }

  /** Extent of everything where it stands while it is spread; null while nothing is. */
  private spreadExtent(): Box3 | null {
    if (!this.view.spread) return null;
    const box = emptyBox();
    for (const model of this.models.loaded)
      for (let row = 0; row < model.index.count; row++)
        if (!model.isHidden(row)) expandByBox(box, movedBox(model, row));
    return box;
  }

  private modelsChanged(): void {
    this.applyElements();
    this.applyColours();
    this.applySpread();
    this.sections.invalidate();
    this.snapping.invalidate();
    this.cutFrames.rebuild();
    this.changed();
  }

  private applyLight(): void {
    this.light.show(this.view.light, this.sun);
    this.showBackground();
  }

  private showBackground(): void {
    this.background.show(this.view.style, this.isDim, this.sun?.elevation ?? null);
    this.loop.redraw();
  }

  private applyStyle(): void {
    this.look.set(this.view.style, this.isDim);
    for (const model of this.models.loaded) model.restyle();
    this.showBackground();
  }

  /** Something stands elsewhere, or shows otherwise. */
  private changed(): void {
    this.light.invalidate();
    this.loop.redraw();
  }

  /** While a cut is dragged, a slow device draws fewer pixels, and shadows wait: they cost as much as the picture. */
  private cutMoved(): void {
    this.loop.moving();
    this.doShadowsWait = true;
  }

  private rested(): boolean {
    const didWait = this.doShadowsWait;
    this.doShadowsWait = false;
    if (didWait) this.light.invalidate();
    const isLitAnew = this.light.fit(this.rig, this.walking.gait !== null);
    const isOtherExposure = this.adaptExposure();
    return isLitAnew || isOtherExposure || didWait || this.hasContactShade;
  }

  /** Eyes get used to the dark of a room. Returns whether they are not yet. */
  private adaptExposure(): boolean {
    const { feet } = this.walking;
    return this.light.adapt(feet ? openness(this.models.loaded, this.rig.camera.position) : 1);
  }

  private step(now: number): boolean {
    const { flights } = this.rig;
    flights.step(now);
    if (this.light.goOnAdapting()) this.loop.redraw();
    const isWalking = this.walking.step(now);
    const doOthersWalk = this.figures.step(this.rig.camera.position);
    if (doOthersWalk) this.loop.redraw();
    return isWalking || doOthersWalk || flights.isFlying;
  }

  /** Asks for the tiles that the view needs. Returns whether some are on their way. */
  private update(): boolean {
    this.depth.fit();
    // Who walks comes out of the sharp shadows sooner or later, and does not rest meanwhile.
    if (!this.loop.isMoving || this.walking.gait) this.light.fit(this.rig, this.walking.gait !== null);
    this.light.lookFrom(this.rig);
    const isLoading = this.models.update();
    if (!isLoading) this.light.castShadows();
    const busy = isLoading || this.models.areArriving;
    if (busy !== this.isBusy) {
      this.isBusy = busy;
      this.events.onLoading?.(busy);
    }
    return isLoading;
  }

  /** Draws the picture, with shade in its corners where it rests and the device is quick enough. */
  private render(): void {
    const { width, height } = this.renderer.domElement;
    this.look.drawOn(width, height, this.renderer.getPixelRatio());
    this.renderer.render(this.scene, this.rig.camera);
    if (!this.hasContactShade || this.loop.isMoving || this.isBusy) return;
    this.contactShade.draw(this.renderer, this.rig.camera);
  }

  private get hasContactShade(): boolean {
    const { look } = this.view.style;
    if (look === 'ink' || look === 'clear' || !this.view.light.shadows || this.resolution === 'half') return false;
    return this.resolution === 'full' || (!drawsInSoftware() && this.models.deviceName !== 'phone');
  }

  private draw(): void {
    this.cutFrames.fit(this.rig);
    this.render();
    this.measures.paint();
    this.marks.paint();
    this.events.onFrame?.();
  }

  private drawCoarsely(isCoarse: boolean): void {
    this.renderer.setPixelRatio(pixelRatio(this.resolution, devicePixelRatio, isCoarse));
  }

  private resize(): void {
    const { clientWidth, clientHeight } = this.element;
    if (clientWidth === 0 || clientHeight === 0) return;
    this.renderer.setSize(clientWidth, clientHeight, false);
    this.rig.resize(clientWidth, clientHeight);
    this.sections.resize(clientWidth, clientHeight);
    this.measures.resize(clientWidth, clientHeight);
    this.marks.resize(clientWidth, clientHeight);
    this.loop.redraw();
  }
}

/** Box of an element where it is seen, in project coordinates. */
function movedBox(model: StageModel, row: number): Box3 {
  const box = model.elementBox(row);
  const [x, y, z] = model.offsetOf(row);
  return isEmptyBox(box) ? box : [box[0] + x, box[1] + y, box[2] + z, box[3] + x, box[4] + y, box[5] + z];
}

function isSame(a: unknown, b: unknown): boolean {
  return a === b || JSON.stringify(a) === JSON.stringify(b);
}
