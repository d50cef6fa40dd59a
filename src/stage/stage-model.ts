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
  type Object3D,
  type WebGLRenderer,
} from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { decodeBox } from '@/core/elements/element-boxes';
import type { ElementIndex } from '@/core/elements/element-index';
import { guidRows, HIDDEN } from '@/core/elements/visibility-flags';
import { translateBox, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import type { StageModelSource } from '@/core/project/models';
import { ElementState } from './element-state';
import { disposeMaterials, modelMaterials, type ModelMaterials } from './materials';
import type { TileWork } from './tile-work';

export interface ModelHit {
  model: StageModel;
  row: number;
  distance: number;
  point: Vec3;
}

type TileMesh = Mesh<BufferGeometry, ModelMaterials['opaque']>;

/** One published revision on the stage: its tiles, its element index and the state of its elements. */
export class StageModel {
  readonly group = new Group();
  readonly state: ElementState;
  readonly rowOf: Map<string, number>;
  readonly tiles: TilesRenderer;
  private readonly materials: ModelMaterials;
  private readonly meshes = new Set<TileMesh>();
  private readonly boxes: Uint16Array;

  /**
   * @param origin the stage's zero in project coordinates, so that what the graphics card sees is near zero
   * @param onChange called when there is something new to draw
   */
  constructor(
    readonly source: StageModelSource,
    readonly index: ElementIndex,
    private readonly origin: Vec3,
    private readonly work: TileWork,
    private readonly onChange: () => void,
  ) {
    this.rowOf = guidRows(index);
    this.state = new ElementState(index.count);
    this.materials = modelMaterials(this.state);
    this.boxes = new Uint16Array(Uint8Array.from(atob(index.boxes), (letter) => letter.charCodeAt(0)).buffer);
    this.group.position.set(...this.shift());
    this.tiles = new TilesRenderer(new URL('tileset.json', new URL(source.baseUrl, location.href)).href);
    this.tiles.registerPlugin(new GLTFExtensionsPlugin({ meshoptDecoder: MeshoptDecoder }));
    this.tiles.errorTarget = 8;
    this.tiles.addEventListener('load-model', ({ scene }) => this.dress(scene as Object3D));
    this.tiles.addEventListener('dispose-model', ({ scene }) => this.forget(scene as Object3D));
    for (const event of ['needs-update', 'load-content', 'load-tileset', 'tile-visibility-change'] as const)
      this.tiles.addEventListener(event, onChange);
    this.group.add(this.tiles.group);
  }

  static async load(source: StageModelSource, origin: Vec3, work: TileWork, onChange: () => void): Promise<StageModel> {
    const answer = await fetch(`${source.baseUrl}elements.json`);
    if (!answer.ok)
      throw new Error(
        `The contents of a model could not be loaded (${answer.status}). The other models are not affected; load the page again.`,
      );
    return new StageModel(source, (await answer.json()) as ElementIndex, origin, work, onChange);
  }

  /** Asks for the tiles that the camera needs. Returns whether some are still on their way. */
  update(camera: Camera, renderer: WebGLRenderer): boolean {
    this.tiles.setCamera(camera);
    this.tiles.setResolutionFromRenderer(camera, renderer);
    this.tiles.update();
    return this.loading;
  }

  get loading(): boolean {
    return this.tiles.rootTileset === null || this.tiles.loadProgress < 1;
  }

  /** Box of an element in project coordinates. */
  elementBox(row: number): Box3 {
    return translateBox(decodeBox(this.boxes, row, this.index.extent), this.source.offset);
  }

  /** Nearest shown surface along a ray in stage coordinates. */
  raycast(ray: Ray): ModelHit | null {
    let best: ModelHit | null = null;
    const inverse = new Matrix4();
    const local = new Ray();
    for (const mesh of this.meshes) {
      const tree = mesh.geometry.boundsTree as MeshBVH | undefined;
      if (!tree || !mesh.parent || !isShown(mesh)) continue;
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
    disposeMaterials(this.materials);
    this.state.dispose();
  }

  private shift(): Vec3 {
    return [0, 1, 2].map((axis) => this.source.offset[axis]! - this.origin[axis]!) as Vec3;
  }

  /** Gives a loaded tile our materials, and has its lines and search tree made in the background. */
  private dress(scene: Object3D): void {
    const meshes: TileMesh[] = [];
    scene.traverse((object) => {
      if (object instanceof Mesh) meshes.push(object as TileMesh);
    });
    for (const mesh of meshes) {
      const seeThrough = mesh.material.transparent;
      mesh.material.dispose();
      mesh.material = seeThrough ? this.materials.seeThrough : this.materials.opaque;
      mesh.castShadow = !seeThrough;
      mesh.receiveShadow = !seeThrough;
      mesh.customDepthMaterial = this.materials.depth;
      mesh.renderOrder = seeThrough ? 2 : 0;
      plainAttributes(mesh.geometry);
      this.meshes.add(mesh);
      void this.addLinesAndTree(mesh);
    }
    this.onChange();
  }

  private async addLinesAndTree(mesh: TileMesh): Promise<void> {
    const { geometry } = mesh;
    const positions = geometry.getAttribute('position').array as Uint16Array;
    const indices = geometry.index!.array as Uint32Array | Uint16Array;
    const { tree, lines } = await this.work.run(positions.slice(), indices.slice());
    if (!this.meshes.has(mesh)) return;
    geometry.boundsTree = MeshBVH.deserialize(tree, geometry);
    if (mesh.renderOrder === 0) {
      const edges = new BufferGeometry();
      edges.setAttribute('position', geometry.getAttribute('position'));
      edges.setAttribute('_feature_id_0', geometry.getAttribute('_feature_id_0'));
      edges.setIndex(new BufferAttribute(lines, 1));
      const ink = new LineSegments(edges, this.materials.lines);
      ink.renderOrder = 1;
      ink.raycast = () => undefined;
      mesh.add(ink);
      // The tile group does not walk down to children that are added later.
      ink.updateMatrixWorld(true);
    }
    this.onChange();
  }

  private forget(scene: Object3D): void {
    scene.traverse((object) => {
      if (object instanceof Mesh) this.meshes.delete(object as TileMesh);
    });
  }
}

function isShown(object: Object3D): boolean {
  for (let at: Object3D | null = object; at; at = at.parent) if (!at.visible) return false;
  return true;
}

/** Interleaved attributes become plain arrays, which workers and the search tree take. */
function plainAttributes(geometry: BufferGeometry): void {
  for (const [name, attribute] of Object.entries(geometry.attributes)) {
    const { itemSize, count, normalized } = attribute;
    const source = attribute.array as Uint16Array;
    if (attribute instanceof BufferAttribute && source.length === itemSize * count) continue;
    const Kind = source.constructor as { new (length: number): Uint16Array };
    const stride = 'data' in attribute ? (attribute.data as { stride: number }).stride : itemSize;
    const offset = 'offset' in attribute ? (attribute.offset as number) : 0;
    const plain = new Kind(itemSize * count);
    for (let i = 0; i < count; i++)
      for (let c = 0; c < itemSize; c++) plain[i * itemSize + c] = source[i * stride + offset + c]!;
    geometry.setAttribute(name, new BufferAttribute(plain, itemSize, normalized));
  }
}
