import { TilesRenderer } from '3d-tiles-renderer/three';
import { GLTFExtensionsPlugin } from '3d-tiles-renderer/three/plugins';
import { MeshoptDecoder } from 'meshoptimizer';
import {
  BufferAttribute,
  BufferGeometry,
  DoubleSide,
  Group,
  LineSegments,
  Matrix4,
  Mesh,
  Ray,
  type Camera,
  type Intersection,
  type MeshLambertMaterial,
  type MeshStandardMaterial,
  type Object3D,
  type WebGLRenderer,
} from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { boxesOfColumns, decodeBox } from '@/core/elements/element-boxes';
import type { ElementIndex } from '@/core/elements/element-index';
import { guidRows, HIDDEN } from '@/core/elements/visibility-flags';
import type { TileCost } from '@/core/detail/detail-tile';
import { isEmptyBox, translateBox, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import { uniqueRows } from '@/core/mesh/unique-rows';
import { placeBox, placePoint, type Placement } from '@/core/placement/placement';
import type { StageModelSource } from '@/core/project/models';
import { deriveNormals } from './derive-normals';
import { drawOut } from './draw-out';
import { ElementPaint, type Paint } from './element-paint';
import { ElementState } from './element-state';
import { ModelMaterials, showPicture } from './materials';
import { pictureAddresses, Pictures } from './pictures';
import { plainAttributes } from './plain-attributes';
import type { TileWork } from './tile-work';

export interface ModelHit {
  model: StageModel;
  row: number;
  distance: number;
  point: Vec3;
}

/** What has come in: surfaces, something that casts no shadow, or only news of what may be asked for next. */
export type Arrival = 'surfaces' | 'finish' | 'news';

type TileMesh = Mesh<BufferGeometry, MeshLambertMaterial>;

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
  readonly rowOf: Map<string, number>;
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

  /**
   * @param origin the stage's zero in project coordinates, so that what the graphics card sees is near zero
   * @param onArrival called when something has come in
   */
  constructor(
    readonly source: StageModelSource,
    readonly index: ElementIndex,
    private readonly origin: Vec3,
    private readonly work: TileWork,
    private readonly onArrival: (what: Arrival) => void,
  ) {
    this.rowOf = guidRows(index);
    this.state = new ElementState(index.count);
    this.paint = new ElementPaint(index.count);
    this.materials = new ModelMaterials(this.state, this.paint);
    this.boxes = boxesOfColumns(index.boxes);
    this.kinds = fabricKinds(index);
    this.placement = source.placement;
    this.place(source.placement);
    const base = new URL(source.baseUrl, location.href);
    this.pictures = new Pictures(new URL('tiles/', base).href, () => onArrival('finish'));
    this.tiles = new TilesRenderer(new URL('tileset.json', base).href);
    this.tiles.registerPlugin(
      new GLTFExtensionsPlugin({ meshoptDecoder: MeshoptDecoder, plugins: [pictureAddresses] }),
    );
    this.tiles.addEventListener('load-model', ({ scene }) => this.dress(scene as Object3D));
    this.tiles.addEventListener('dispose-model', ({ scene }) => this.forget(scene as Object3D));
    for (const event of ['needs-update', 'load-content', 'load-tileset'] as const)
      this.tiles.addEventListener(event, () => onArrival('news'));
    this.tiles.addEventListener('tile-visibility-change', () => onArrival('surfaces'));
    this.group.add(this.tiles.group);
  }

  static async load(
    source: StageModelSource,
    origin: Vec3,
    work: TileWork,
    onArrival: (what: Arrival) => void,
  ): Promise<StageModel> {
    const answer = await fetch(`${source.baseUrl}elements.json`);
    if (!answer.ok)
      throw new Error(
        `The contents of a model could not be loaded (${answer.status}). The other models are not affected; load the page again.`,
      );
    return new StageModel(source, (await answer.json()) as ElementIndex, origin, work, onArrival);
  }

  /**
   * Asks for the tiles that the camera needs. Returns whether some are still on their way.
   *
   * @param pixelError pixels by which what is shown may be off
   */
  update(camera: Camera, renderer: WebGLRenderer, pixelError: number): boolean {
    this.tiles.errorTarget = pixelError;
    this.tiles.setCamera(camera);
    this.tiles.setResolutionFromRenderer(camera, renderer);
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

  /** Sets the state of all elements, a byte each. */
  setFlags(flags: Uint8Array): void {
    this.state.set(flags);
    this.away = flags.every((flag) => flag & HIDDEN);
    this.group.visible = !this.away;
  }

  /** Shows elements otherwise than in the file. */
  setPaint(paint: Paint): void {
    this.paint.set(paint);
    this.onArrival('finish');
  }

  /** Where the model stands in the project. */
  place(placement: Placement): void {
    this.placement = placement;
    const zero = placePoint(placement, this.source.offset);
    this.group.position.set(...(zero.map((value, axis) => value - this.origin[axis]!) as Vec3));
    this.group.rotation.z = placement.turn;
    this.group.updateMatrixWorld(true);
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

  /** Nearest shown surface along a ray in stage coordinates. */
  raycast(ray: Ray): ModelHit | null {
    if (this.away) return null;
    let best: ModelHit | null = null;
    const inverse = new Matrix4();
    const local = new Ray();
    for (const mesh of this.meshes) {
      const tree = mesh.geometry.boundsTree as MeshBVH | undefined;
      if (!tree || !this.isShown(mesh)) continue;
      inverse.copy(mesh.matrixWorld).invert();
      local.copy(ray).applyMatrix4(inverse);
      for (const hit of tree.raycast(local, DoubleSide) as Intersection[]) {
        const point = hit.point.clone().applyMatrix4(mesh.matrixWorld);
        const distance = point.distanceTo(ray.origin);
        if (best && distance >= best.distance) continue;
        const row = Math.round(mesh.geometry.getAttribute('_feature_id_0').getX(hit.face!.a));
        if (this.state.flags[row]! & HIDDEN) continue;
        best = {
          model: this,
          row,
          distance,
          point: [point.x + this.origin[0], point.y + this.origin[1], point.z + this.origin[2]],
        };
      }
    }
    return best;
  }

  dispose(): void {
    this.tiles.dispose();
    this.group.removeFromParent();
    this.materials.dispose();
    this.pictures.dispose();
    this.state.dispose();
    this.paint.dispose();
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
      const material = this.materials.surface({
        seeThrough,
        curved: mesh.geometry.hasAttribute('normal'),
        picture: address,
        cutOut: loaded.alphaTest > 0,
      });
      if (address !== null) this.pictures.want(address, (picture) => showPicture(material, picture));
      mesh.material = material;
      loaded.dispose();
      mesh.castShadow = !seeThrough;
      mesh.receiveShadow = !seeThrough;
      mesh.customDepthMaterial = this.materials.depth;
      mesh.renderOrder = seeThrough ? 2 : 0;
      plainAttributes(mesh.geometry);
      this.meshes.add(mesh);
      void this.addLinesAndTree(mesh, !isCut);
    }
    this.onArrival('news');
  }

  private async addLinesAndTree(mesh: TileMesh, rims: boolean): Promise<void> {
    const { geometry } = mesh;
    const positions = geometry.getAttribute('position').array as Uint16Array | Float32Array;
    const indices = geometry.index!.array as Uint32Array | Uint16Array;
    const elements = geometry.getAttribute('_feature_id_0').array as Uint16Array | Float32Array;
    const { tree, lines } = await this.work.run({
      positions: positions.slice(),
      indices: indices.slice(),
      elements: elements.slice(),
      looks: vertexLooks(geometry.getAttribute('color').array as Uint16Array),
      kinds: this.kinds,
      curved: geometry.hasAttribute('normal'),
      rims,
    });
    if (!this.meshes.has(mesh)) return;
    geometry.boundsTree = MeshBVH.deserialize(tree, geometry);
    if (mesh.renderOrder === 0) {
      const edges = new BufferGeometry();
      edges.setAttribute('position', new BufferAttribute(lines.positions, 3));
      edges.setAttribute('otherEnd', new BufferAttribute(lines.ends, 3));
      edges.setAttribute('beside', new BufferAttribute(lines.beside, 1));
      edges.setAttribute('_feature_id_0', new BufferAttribute(lines.elements, 1));
      const ink = new LineSegments(edges, this.materials.lines);
      ink.renderOrder = 1;
      ink.raycast = () => undefined;
      mesh.add(ink);
      // The tile group does not walk down to children that are added later.
      ink.updateMatrixWorld(true);
      this.onArrival('finish');
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
