import { TilesRenderer } from '3d-tiles-renderer/three';
import type { BufferGeometry } from 'three';
import {
  BufferAttribute,
  InstancedBufferGeometry,
  DoubleSide,
  Group,
  LineSegments,
  Matrix4,
  Mesh,
  Box3 as ThreeBox3,
  Ray,
  type Camera,
  type Intersection,
  type MeshLambertMaterial,
  type MeshStandardMaterial,
  type Object3D,
  Vector3,
  type WebGLRenderer,
} from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { boxesOfColumns, decodeBox } from '@/core/elements/element-boxes';
import type { ElementIndex } from '@/core/elements/element-index';
import type { ColourParts } from '@/core/elements/element-colours';
import { fadeOf, guidRows, HIDDEN, WHOLE } from '@/core/elements/element-flags';
import type { ElementRef } from '@/core/elements/element-ref';
import type { ModelElements } from '@/core/elements/match-elements';
import type { TileCost } from '@/core/detail/detail-tile';
import { isEmptyBox, translateBox, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import { uniqueRows } from '@/core/mesh/unique-rows';
import { placeBox, placePoint, type Placement } from '@/core/placement/placement';
import type { StageModelSource } from '@/core/project/models';
import type { CutUniforms } from '../materials/cut-uniforms';
import type { LookUniforms } from '../materials/look-uniforms';
import { ModelMaterials, showPicture, type SurfaceMaterials } from '../materials/model-materials';
import { FinestTiles } from '../surfaces/finest-tiles';
import type { TileInput, TileOutput } from '../workers/tile-task';
import type { WorkerPool } from '../workers/worker-pool';
import { deriveNormals } from './derive-normals';
import { drawOut } from './draw-out';
import { ElementOffsets } from './element-offsets';
import { ElementPaint, type Paint } from './element-paint';
import { ElementState } from './element-state';
import { Pictures } from './pictures';
import { plainAttributes } from './plain-attributes';
import { tileLoader } from './tile-loader';

export interface ModelHit {
  model: StageModel;
  row: number;
  /** Metres along the ray. */
  distance: number;
  /** Place on the element where it belongs, in project coordinates. */
  point: Vec3;
  /** Where that is seen, in stage coordinates: beside its place while elements are spread. */
  seen: Vector3;
}

/** What has come in: surfaces, something that casts no shadow, or only news of what may be asked for next. */
export type Arrival = 'surfaces' | 'finish' | 'news';

type TileMesh = Mesh<BufferGeometry, MeshLambertMaterial>;

/** What is drawn after what. */
const ORDER = { solid: 0, ink: 1, clear: 2, fadedDepth: 3, faded: 4 };

/** Pixels of the picture for which shadow casters beside the view are detailed enough, and for what was moved. */
const SHADOW_PIXELS = 512;
const SPREAD_PIXELS = 1600;

/** Categories of which the fabric is made; of these, what is one surface to the eye is drawn without a line in it. */
const FABRIC = ['Wall', 'Slab', 'Roof', 'Covering', 'Footing', 'Beam', 'Column'];

function fabricKinds({ category, count }: ElementIndex): Uint8Array {
  const kindOf = category.values.map((value) => FABRIC.indexOf(value) + 1);
  return Uint8Array.from({ length: count }, (_, row) => kindOf[category.codes[row]!] ?? 0);
}

/** A number for each colour; the four parts of one are two words. */
function vertexLooks(colors: Uint16Array): Uint32Array {
  return uniqueRows(new Int32Array(colors.slice().buffer), 2).of;
}

/** One published revision on the stage: its tiles, its element index and the state of its elements. */
export class StageModel {
  readonly group = new Group();
  readonly state: ElementState;
  private readonly paint: ElementPaint;
  private ownPaint: Paint = {};
  private colours: ReadonlyMap<number, ColourParts> = new Map();
  private readonly offsets: ElementOffsets;
  readonly rowOf: Map<string, number>;
  /** What rules ask about. */
  readonly elements: ModelElements;
  /** Its surfaces at full detail, for those who ask about them. */
  readonly finest: FinestTiles;
  readonly tiles: TilesRenderer;
  private readonly materials: ModelMaterials;
  private readonly pictures: Pictures;
  private readonly meshes = new Set<TileMesh>();
  private readonly boxes: Uint16Array;
  /** By row: a number for those whose surfaces may run on into each other. */
  private readonly kinds: Uint8Array;
  private placement: Placement;
  /** Whether nothing of it shows, so that none of its tiles is asked for. */
  private away = false;
  private hasFaded = false;
  private seenBy: Camera | null = null;
  private allBoxes: Float32Array | null = null;
  private readonly surfaces = new WeakMap<TileMesh, SurfaceMaterials>();

  /**
   * @param origin the stage's zero in project coordinates, so that what the graphics card sees is near zero
   * @param onArrival called when something has come in
   */
  constructor(
    readonly source: StageModelSource,
    readonly index: ElementIndex,
    private readonly origin: Vec3,
    private readonly pool: WorkerPool,
    private readonly cuts: CutUniforms,
    private readonly look: LookUniforms,
    private readonly onArrival: (what: Arrival) => void,
  ) {
    this.rowOf = guidRows(index);
    this.elements = { model: source.modelId, index, rowOf: this.rowOf };
    this.state = new ElementState(index.count);
    this.paint = new ElementPaint(index.count);
    this.offsets = new ElementOffsets(index.count);
    this.materials = new ModelMaterials(this.state, this.paint, this.offsets, cuts, look);
    this.boxes = boxesOfColumns(index.boxes);
    this.kinds = fabricKinds(index);
    this.placement = source.placement;
    this.place(source.placement);
    const base = new URL(source.baseUrl, location.href);
    this.pictures = new Pictures(new URL('tiles/', base).href, () => onArrival('finish'));
    this.finest = new FinestTiles(base.href, pool);
    this.tiles = new TilesRenderer(new URL('tileset.json', base).href);
    this.tiles.manager.addHandler(/\.glb$/, tileLoader(this.tiles.manager));
    this.tiles.addEventListener('load-model', ({ scene }) => this.dress(scene as Object3D));
    this.tiles.addEventListener('dispose-model', ({ scene }) => this.forget(scene as Object3D));
    for (const event of ['needs-update', 'load-content', 'load-tileset'] as const)
      this.tiles.addEventListener(event, () => onArrival('news'));
    this.tiles.addEventListener('tile-visibility-change', () => onArrival('surfaces'));
    this.tiles.autoDisableRendererCulling = false; // what lies beside the picture is loaded for its shadow, not drawn
    this.group.add(this.tiles.group);
  }

  static async load(
    source: StageModelSource,
    origin: Vec3,
    pool: WorkerPool,
    cuts: CutUniforms,
    look: LookUniforms,
    onArrival: (what: Arrival) => void,
  ): Promise<StageModel> {
    const answer = await fetch(`${source.baseUrl}elements.json`);
    if (!answer.ok)
      throw new Error(
        `The contents of a model could not be loaded (${answer.status}). The other models are not affected; load the page again.`,
      );
    return new StageModel(source, (await answer.json()) as ElementIndex, origin, pool, cuts, look, onArrival);
  }

  /**
   * Asks for the tiles that the camera needs, and for coarser ones of what else casts shadows. Returns whether some are
   * still on their way.
   *
   * @param shadowCamera sees all that may cast a shadow
   * @param pixelError pixels by which what is shown may be off
   */
  update(camera: Camera, shadowCamera: Camera, renderer: WebGLRenderer, pixelError: number): boolean {
    this.tiles.errorTarget = pixelError;
    if (this.seenBy && this.seenBy !== camera) this.tiles.deleteCamera(this.seenBy);
    this.seenBy = camera;
    this.tiles.setCamera(camera);
    this.tiles.setResolutionFromRenderer(camera, renderer);
    this.tiles.setCamera(shadowCamera);
    // What was moved may stand in the picture although its tile does not.
    const pixels = this.offsets.isSpread ? SPREAD_PIXELS : SHADOW_PIXELS;
    this.tiles.setResolution(shadowCamera, pixels, pixels);
    this.tiles.update();
    return this.loading;
  }

  get loading(): boolean {
    return this.tiles.rootTileset === null || this.tiles.loadProgress < 1;
  }

  /** Triangles of the tiles that are drawn now. */
  get triangles(): number {
    let sum = 0;
    for (const tile of this.tiles.visibleTiles) sum += (tile as { extras?: Partial<TileCost> }).extras?.triangles ?? 0;
    return sum;
  }

  get isAway(): boolean {
    return this.away;
  }

  /** What the element of a row is called across revisions. */
  refOf(row: number): ElementRef {
    return { model: this.source.modelId, guid: this.index.guid[row]! };
  }

  /** Sets the state of all elements. @see elementFlags */
  setFlags(flags: Uint16Array): void {
    this.state.set(flags);
    this.away = flags.every((flag) => flag & HIDDEN);
    this.group.visible = !this.away;
    const hasFaded = flags.some((flag) => fadeOf(flag) > 0 && !(flag & HIDDEN));
    if (hasFaded === this.hasFaded) return;
    this.hasFaded = hasFaded;
    for (const mesh of this.meshes) this.showFaded(mesh);
  }

  /** Takes over how models are drawn. */
  restyle(): void {
    this.materials.restyle();
  }

  /** Whether anything is cut away. */
  setCutting(isCutting: boolean): void {
    this.materials.setCutting(isCutting);
  }

  /** Whether an element is there for those who point, measure or walk: it shows, and is not looked through. */
  isSolid(row: number): boolean {
    const flag = this.state.flags[row]!;
    return (flag & HIDDEN) === 0 && fadeOf(flag) === 0;
  }

  /** Whether a place on an element is cut away. @param at in stage coordinates, where it is seen */
  isCutAway(row: number, at: Vector3): boolean {
    return (this.state.flags[row]! & WHOLE) === 0 && this.cuts.isAway(at);
  }

  /** By row: 1 for what is cut by a section: it is there, and does not stay whole. */
  get cutRows(): Uint8Array {
    return Uint8Array.from({ length: this.index.count }, (_, row) =>
      this.isSolid(row) && (this.state.flags[row]! & WHOLE) === 0 ? 1 : 0,
    );
  }

  /** By row: 1 for what is there. */
  get solidRows(): Uint8Array {
    return Uint8Array.from({ length: this.index.count }, (_, row) => Number(this.isSolid(row)));
  }

  isHidden(row: number): boolean {
    return (this.state.flags[row]! & HIDDEN) !== 0;
  }

  /** Puts elements beside their places. @param offsets three lengths an element, metres along the axes of the stage */
  setOffsets(offsets: Float32Array | null): void {
    this.offsets.set(offsets);
    for (const mesh of this.meshes) this.cull(mesh);
  }

  get isSpread(): boolean {
    return this.offsets.isSpread;
  }

  /** By how much an element stands beside its place, metres along the axes of the stage. */
  offsetOf(row: number): Vec3 {
    return this.offsets.at(row);
  }

  /** Shows elements otherwise than in the file. */
  setPaint(paint: Paint): void {
    this.ownPaint = paint;
    this.applyPaint();
  }

  /** The colours that the view gives to elements, by row; they count before any other paint. */
  setColours(colours: ReadonlyMap<number, ColourParts>): void {
    if (colours.size === 0 && this.colours.size === 0) return;
    this.colours = colours;
    this.applyPaint();
  }

  private applyPaint(): void {
    const { ownPaint, colours } = this;
    this.paint.set({ ...ownPaint, colors: new Map([...(ownPaint.colors ?? []), ...colours]) });
    this.onArrival('finish');
  }

  /** Where the model stands in the project. */
  place(placement: Placement): void {
    this.placement = placement;
    const zero = placePoint(placement, this.source.offset);
    this.group.position.set(...(zero.map((value, axis) => value - this.origin[axis]!) as Vec3));
    this.group.rotation.z = placement.turn;
    this.group.updateMatrixWorld(true);
    this.allBoxes = null;
  }

  /** Box of the whole model in project coordinates. */
  get extent(): Box3 {
    return placeBox(this.placement, translateBox(this.index.extent, this.source.offset));
  }

  /** Box of an element in project coordinates; empty if it has no shape. */
  elementBox(row: number): Box3 {
    const box = translateBox(decodeBox(this.boxes, row, this.index.extent), this.source.offset);
    return isEmptyBox(box) ? box : placeBox(this.placement, box);
  }

  /**
   * Boxes of all elements in stage coordinates, six numbers each, for those who look through all of them; NaN for an element
   * without a shape. Worked out anew when the model was placed elsewhere.
   */
  get stageBoxes(): Float32Array {
    if (!this.allBoxes) {
      const boxes = new Float32Array(this.index.count * 6).fill(NaN);
      for (let row = 0; row < this.index.count; row++) {
        const box = this.elementBox(row);
        if (!isEmptyBox(box)) for (let i = 0; i < 6; i++) boxes[row * 6 + i] = box[i]! - this.origin[i % 3]!;
      }
      this.allBoxes = boxes;
    }
    return this.allBoxes;
  }

  /** Box of an element in the model's own coordinates. */
  ownBox(row: number): ThreeBox3 {
    const box = decodeBox(this.boxes, row, this.index.extent);
    return new ThreeBox3(new Vector3(box[0], box[1], box[2]), new Vector3(box[3], box[4], box[5]));
  }

  /** Nearest surface along a ray in stage coordinates, of what shows and is not looked through. */
  raycast(ray: Ray): ModelHit | null {
    if (this.away) return null;
    if (!this.offsets.isSpread) return this.cast(ray, [0, 0, 0], (row) => this.isSolid(row));
    // Where elements stand beside their places, each group that was moved alike is looked at from as far beside.
    let best: ModelHit | null = null;
    for (const [offset, rows] of this.movedAlong(ray)) {
      const hit = this.cast(ray, offset, (row) => rows.has(row));
      if (hit && (!best || hit.distance < best.distance)) best = hit;
    }
    return best;
  }

  private cast(ray: Ray, offset: Vec3, counts: (row: number) => boolean): ModelHit | null {
    let best: ModelHit | null = null;
    const inverse = new Matrix4();
    const beside = ray.clone();
    beside.origin.sub(new Vector3(...offset));
    const local = new Ray();
    for (const mesh of this.meshes) {
      const tree = mesh.geometry.boundsTree as MeshBVH | undefined;
      if (!tree || !this.isShown(mesh)) continue;
      inverse.copy(mesh.matrixWorld).invert();
      local.copy(beside).applyMatrix4(inverse);
      for (const hit of tree.raycast(local, DoubleSide) as Intersection[]) {
        const at = hit.point.clone().applyMatrix4(mesh.matrixWorld);
        const distance = at.distanceTo(beside.origin);
        if (best && distance >= best.distance) continue;
        const row = Math.round(mesh.geometry.getAttribute('_feature_id_0').getX(hit.face!.a));
        if (!counts(row)) continue;
        const seen = at.clone().add(new Vector3(...offset));
        if (this.isCutAway(row, seen)) continue;
        const point: Vec3 = [at.x + this.origin[0], at.y + this.origin[1], at.z + this.origin[2]];
        best = { model: this, row, distance, point, seen };
      }
    }
    return best;
  }

  /** Elements whose moved boxes a ray meets, by how they were moved. */
  private movedAlong(ray: Ray): [Vec3, Set<number>][] {
    const groups = new Map<string, [Vec3, Set<number>]>();
    const beside = new Vector3();
    const box = new ThreeBox3();
    const boxes = this.stageBoxes;
    for (let row = 0; row < this.index.count; row++) {
      if (!this.isSolid(row) || Number.isNaN(boxes[row * 6]!)) continue;
      const offset = this.offsets.at(row);
      const [x, y, z] = offset;
      box.min.fromArray(boxes, row * 6);
      box.max.fromArray(boxes, row * 6 + 3);
      box.translate(beside.set(x, y, z));
      if (!ray.intersectsBox(box)) continue;
      const group = groups.get(offset.join()) ?? [offset, new Set<number>()];
      group[1].add(row);
      groups.set(offset.join(), group);
    }
    return [...groups.values()];
  }

  dispose(): void {
    this.tiles.dispose();
    this.group.removeFromParent();
    this.materials.dispose();
    this.pictures.dispose();
    this.state.dispose();
    this.paint.dispose();
    this.offsets.dispose();
    this.finest.dispose();
  }

  /** Gives a loaded tile our materials, and has its lines and search tree made in the background. */
  private dress(scene: Object3D): void {
    deriveNormals(scene);
    drawOut(scene);
    const meshes: TileMesh[] = [];
    scene.traverse((object) => {
      if (object instanceof Mesh) meshes.push(object as TileMesh);
    });
    for (const mesh of meshes) {
      const loaded = mesh.material as unknown as MeshStandardMaterial;
      const seeThrough = loaded.transparent;
      const isCut = loaded.userData.cut === true;
      const address = loaded.map?.name ?? null;
      const materials = this.materials.surface({
        seeThrough,
        curved: mesh.geometry.hasAttribute('normal'),
        picture: address,
        cutOut: loaded.alphaTest > 0,
      });
      if (address !== null) this.pictures.want(address, (picture) => showPicture(materials, picture));
      mesh.material = materials.solid;
      loaded.dispose();
      mesh.castShadow = !seeThrough;
      mesh.receiveShadow = !seeThrough;
      mesh.customDepthMaterial = this.materials.shadow;
      mesh.renderOrder = seeThrough ? ORDER.clear : ORDER.solid;
      plainAttributes(mesh.geometry);
      mesh.geometry.computeBoundingSphere();
      this.meshes.add(mesh);
      this.surfaces.set(mesh, materials);
      this.cull(mesh);
      this.showFaded(mesh);
      void this.addLinesAndTree(mesh, !isCut);
    }
    this.onArrival('news');
  }

  private async addLinesAndTree(mesh: TileMesh, rims: boolean): Promise<void> {
    const { geometry } = mesh;
    const positions = geometry.getAttribute('position').array as Uint16Array | Float32Array;
    const indices = geometry.index!.array as Uint32Array | Uint16Array;
    const elements = geometry.getAttribute('_feature_id_0').array as Uint16Array | Float32Array;
    const input = (): TileInput => ({
      positions: positions.slice(),
      indices: indices.slice(),
      elements: elements.slice(),
      looks: vertexLooks(geometry.getAttribute('color').array as Uint16Array),
      kinds: this.kinds,
      curved: geometry.hasAttribute('normal'),
      rims,
    });
    const { tree, lines } = await this.prepare(input);
    if (!this.meshes.has(mesh)) return;
    // Without a worker the mesh can still be picked; only its lines are missing.
    geometry.boundsTree = tree ? MeshBVH.deserialize(tree, geometry) : new MeshBVH(geometry);
    if (mesh.renderOrder === ORDER.solid && lines) {
      const edges = new InstancedBufferGeometry();
      edges.setAttribute('position', new BufferAttribute(lines.positions, 3));
      edges.setAttribute('otherEnd', new BufferAttribute(lines.ends, 3));
      edges.setAttribute('beside', new BufferAttribute(lines.beside, 1));
      edges.setAttribute('_feature_id_0', new BufferAttribute(lines.elements, 1));
      const ink = new LineSegments(edges, this.materials.lines);
      ink.renderOrder = ORDER.ink;
      ink.frustumCulled = mesh.frustumCulled;
      ink.raycast = () => undefined;
      ink.onBeforeRender = () => {
        edges.instanceCount = this.look.inkStrokes;
      };
      mesh.add(ink);
      // The tile group does not walk down to children that are added later.
      ink.updateMatrixWorld(true);
      this.onArrival('finish');
    }
  }

  /** The search tree and lines of a tile, made in the background; tried once more if a worker breaks down. */
  private async prepare(input: () => TileInput): Promise<Partial<TileOutput>> {
    for (let attempt = 0; attempt < 2; attempt++) {
      const given = input();
      const transfer = [given.positions, given.indices, given.elements].map((array) => array.buffer as ArrayBuffer);
      try {
        return await this.pool.run('prepare-tile', given, { transfer });
      } catch (error) {
        if (error instanceof DOMException && error.name === 'AbortError') return {};
        console.warn('A tile was not prepared in the background:', error); // eslint-disable-line no-console
      }
    }
    return {};
  }

  /** What was moved by the shader may stand where its mesh does not: then nothing is left out. */
  private cull(mesh: TileMesh): void {
    mesh.frustumCulled = !this.offsets.isSpread;
    for (const child of mesh.children) child.frustumCulled = mesh.frustumCulled;
  }

  /** Adds the two passes in which faded elements are drawn, or takes them away where there are none. */
  private showFaded(mesh: TileMesh): void {
    const passes = mesh.children.filter((child) => child.userData.faded === true);
    if (!this.hasFaded) {
      for (const pass of passes) mesh.remove(pass);
      return;
    }
    if (passes.length > 0) return;
    const { faded } = this.surfaces.get(mesh)!;
    for (const [material, order] of [
      [this.materials.fadedDepth, ORDER.fadedDepth],
      [faded, ORDER.faded],
    ] as const) {
      const pass = new Mesh(mesh.geometry, material);
      pass.userData.faded = true;
      pass.renderOrder = order;
      pass.frustumCulled = mesh.frustumCulled;
      pass.raycast = () => undefined;
      mesh.add(pass);
      pass.updateMatrixWorld(true);
    }
  }

  /** Whether a tile's mesh is drawn now; tiles that gave way to others are still there, but not in the group. */
  private isShown(mesh: TileMesh): boolean {
    for (let at: Object3D | null = mesh; at; at = at.parent) {
      if (!at.visible) return false;
      if (at.parent === this.tiles.group) return this.tiles.group.children.includes(at);
    }
    return false;
  }

  private forget(scene: Object3D): void {
    scene.traverse((object) => {
      if (object instanceof Mesh) this.meshes.delete(object as TileMesh);
      // What was made here is not known to the loader.
      if (object instanceof Mesh || object instanceof LineSegments) (object.geometry as BufferGeometry).dispose();
    });
  }
}
