import { createHash } from 'node:crypto';
import {
  Document,
  MathUtils,
  NodeIO,
  type Accessor,
  type mat4,
  type Material,
  type Mesh,
  type Texture,
  type vec4,
} from '@gltf-transform/core';
import { EXTMeshGPUInstancing, EXTMeshoptCompression, KHRMeshQuantization } from '@gltf-transform/extensions';
import { MeshoptEncoder } from 'meshoptimizer';
import { longestSide, type Box3 } from '@/core/math/box3';
import { transformPoint, type Vec3 } from '@/core/math/mat4';
import { splitByNormals } from '../geometry/derivable-normals';
import { InstanceFeaturesExtension, MeshFeaturesExtension } from './feature-ids-extensions';
import { LoosePacking } from './brotli-friendly-meshopt';
import type { Surface } from '../pictures/pictures';
import { shapeGrid, type Places, type TileContent } from '../geometry/repeats';
import { Pauses } from '../threads/pauses';
import { SAME_PLACE } from '../geometry/shares';
import { WebpPicturesExtension } from './webp-pictures-extension';
import { weldPieces, type Grid, type Look, type TileMesh } from '../geometry/weld';

const MAX_STEP = 65535;
/** A tile is to have no more bytes than these where it can be helped. */
const MOST_BYTES = 500_000;
/** Metres a step, about a millimetre: finer than this nothing is rounded but what is small itself. */
const FINE_STEP = 2 ** -10;
/** Steps along what is smaller than so many millimetres. */
const FINE_STEPS = 2 ** 13;

export interface EncodedTile {
  glb: Uint8Array;
  triangles: number;
  /** Draw calls that it needs. */
  primitives: number;
  /** Bytes of its vertices and triangles in the memory of a graphics card, without pictures. */
  bytesDrawn: number;
  /** Bytes of its vertices, triangles and places before they are packed. */
  bytesUnpacked: number;
  /** Textures that it shows. */
  textures: Set<number>;
  /** Rows of the elements that show at least one triangle. */
  elements: Set<number>;
  /** Largest distance by which rounding to the grid moved a vertex along an axis, in metres: half a step. */
  quantisationError: number;
}

/**
 * One tile as GLB: a primitive for each look, uint16 positions (KHR_mesh_quantization), the element index of every
 * vertex (EXT_mesh_features), vertex colours, meshopt-compressed. Faces are flat, except those with a material with
 * `extras.curved`: their normals travel, or the viewer derives them where it comes to the same. Pictures lie beside the
 * tile (EXT_texture_webp). What stands there many times is written once, with its places. A material with `extras.cut` is
 * that of surfaces that go on in other tiles.
 *
 * @param box of all that it shows
 * @param pictures address of a picture by the index of its texture, relative to the tile
 * @returns null if no triangle survives rounding
 */
export async function encodeTile(
  { single, repeats }: TileContent,
  box: Box3,
  surfaces: Surface[],
  pictures: ReadonlyMap<number, string> = new Map(),
): Promise<EncodedTile | null> {
  await MeshoptEncoder.ready;
  const grid = gridOf(box);
  const { step } = grid;
  const pauses = new Pauses();
  const welded = weldPieces(single, surfaces, grid, MAX_STEP).flatMap(splitByNormals);
  if (pauses.areDue) await pauses.pause();
  const meshes = welded.map(reorder);
  const shapes = repeats.flatMap(({ piece, places }): Shape[] => {
    const own = shapeGrid(piece, step, MAX_STEP);
    const shape = weldPieces([{ ...piece, element: 0 }], surfaces, own, MAX_STEP)
      .flatMap(splitByNormals)
      .map(reorder);
    return shape.length > 0 ? [{ meshes: shape, grid: own, box: piece.box, places }] : [];
  });
  if (meshes.length === 0 && shapes.length === 0) return null;

  const scene = new TileScene(pictures);
  // Steps back to metres; -y was counted from the far side of the grid.
  const [x, y, z] = [grid.origin[0], grid.origin[2], -(grid.origin[1] + MAX_STEP * step)];
  if (meshes.length > 0) scene.add(meshes, [x, y, z], step);
  for (const shape of shapes) scene.addRepeated(shape, grid, [x, y, z]);
  const all = [...meshes.map((mesh) => ({ mesh, times: 1 }))].concat(
    shapes.flatMap((shape) => shape.meshes.map((mesh) => ({ mesh, times: shape.places.elements.length }))),
  );
  if (pauses.areDue) await pauses.pause();
  const elements = new Set<number>();
  for (const { places } of shapes) for (const element of places.elements) elements.add(element);
  for (const mesh of meshes) for (const element of elementsOf(mesh)) elements.add(element);
  // The viewer draws all repeated shapes of one look together.
  const repeatedLooks = new Set(shapes.flatMap((shape) => shape.meshes.map((mesh) => lookKey(mesh))));
  return {
    glb: await scene.write(),
    triangles: all.reduce((sum, { mesh, times }) => sum + (mesh.indices.length / 3) * times, 0),
    primitives: meshes.length + repeatedLooks.size,
    bytesUnpacked: scene.bytes,
    bytesDrawn: all.reduce((sum, { mesh, times }) => sum + bytesDrawn(mesh, times), 0),
    textures: new Set(all.map(({ mesh }) => mesh.texture).filter((texture) => pictures.has(texture))),
    elements,
    quantisationError: Math.max(
      meshes.length > 0 ? step / 2 : 0,
      // A step's half along each axis may add up along one when turned.
      ...shapes.map((shape) => (shape.grid.step / 2) * Math.sqrt(3) + SAME_PLACE),
    ),
  };
}

interface Shape {
  meshes: TileMesh[];
  grid: Grid;
  box: Box3;
  places: Places;
}

/** A tile as a glTF document in the making. */
class TileScene {
  private readonly document = new Document();
  private readonly buffer = this.document.createBuffer();
  private readonly scene = this.document.createScene();
  private readonly features = this.document.createExtension(MeshFeaturesExtension);
  private readonly looks: Materials;
  private readonly accessors = new Map<string, Accessor>();

  constructor(pictures: ReadonlyMap<number, string>) {
    this.looks = new Materials(this.document, pictures);
    this.document.createExtension(KHRMeshQuantization).setRequired(true);
    this.document
      .createExtension(EXTMeshoptCompression)
      .setRequired(true)
      .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.FILTER });
  }

  /** Triangles that stand where they are, with the element of every vertex. */
  add(meshes: TileMesh[], translation: Vec3, scale: number): void {
    const target = this.document.createMesh();
    for (const mesh of meshes) {
      const elements = elementsOf(mesh);
      const isShort = [...elements].every((element) => element <= 65535);
      const ids = isShort ? new Uint16Array(mesh.features) : new Float32Array(mesh.features);
      target.addPrimitive(
        this.primitive(mesh)
          .setAttribute('_FEATURE_ID_0', this.accessor('SCALAR', ids))
          .setExtension('EXT_mesh_features', this.features.createMeshFeatures().setFeatureCount(elements.size)),
      );
    }
    this.node(target, translation, scale);
  }

  /** One shape in many places, with the element of every place (EXT_mesh_gpu_instancing, EXT_instance_features). */
  addRepeated({ meshes, grid, box, places }: Shape, tile: Grid, translation: Vec3): void {
    const target = this.document.createMesh();
    for (const mesh of meshes) target.addPrimitive(this.primitive(mesh));
    // Where the shape's own steps begin, in the revision's frame.
    const zero: Vec3 = [box[0], box[4], box[2]];
    const count = places.elements.length;
    const translations = new Float32Array(count * 3);
    const rotations = new Float32Array(count * 4);
    const scales = new Float32Array(count * 3).fill(grid.step / tile.step);
    const ids = Float32Array.from(places.elements);
    for (let i = 0; i < count; i++) {
      const motion = places.motions.subarray(i * 16, i * 16 + 16);
      const [px, py, pz] = transformPoint(motion, ...zero);
      const rotation: vec4 = [0, 0, 0, 1];
      MathUtils.decompose([...motion] as mat4, [0, 0, 0], rotation, [1, 1, 1]);
      const [qx, qy, qz, qw] = rotation;
      translations.set(
        [
          (px - tile.origin[0]) / tile.step,
          (pz - tile.origin[2]) / tile.step,
          MAX_STEP - (py - tile.origin[1]) / tile.step,
        ],
        i * 3,
      );
      rotations.set([qx, qz, -qy, qw], i * 4);
    }
    const instancing = this.document.createExtension(EXTMeshGPUInstancing).setRequired(true);
    const features = this.document.createExtension(InstanceFeaturesExtension);
    this.node(target, translation, tile.step)
      .setExtension(
        'EXT_mesh_gpu_instancing',
        instancing
          .createInstancedMesh()
          .setAttribute('TRANSLATION', this.accessor('VEC3', translations))
          .setAttribute('ROTATION', this.accessor('VEC4', rotations))
          .setAttribute('SCALE', this.accessor('VEC3', scales))
          .setAttribute('_FEATURE_ID_0', this.accessor('SCALAR', ids)),
      )
      .setExtension('EXT_instance_features', features.createInstanceFeatures().setFeatureCount(new Set(ids).size));
  }

  /** Of all that is added so far, as it is. */
  get bytes(): number {
    return [...this.accessors.values()].reduce((sum, accessor) => sum + accessor.getByteLength(), 0);
  }

  /** Loosely packed, which weighs less as sent; a tile that would become too large for it, tightly. */
  async write(): Promise<Uint8Array> {
    const loose = await this.writeWith(LoosePacking);
    return loose.length <= MOST_BYTES ? loose : this.writeWith(MeshoptEncoder);
  }

  private writeWith(encoder: typeof MeshoptEncoder): Promise<Uint8Array> {
    return new NodeIO()
      .registerExtensions([
        KHRMeshQuantization,
        EXTMeshoptCompression,
        EXTMeshGPUInstancing,
        MeshFeaturesExtension,
        InstanceFeaturesExtension,
        WebpPicturesExtension,
      ])
      .registerDependencies({ 'meshopt.encoder': encoder })
      .writeBinary(this.document);
  }

  private node(mesh: Mesh, translation: Vec3, scale: number) {
    const node = this.document.createNode().setMesh(mesh).setScale([scale, scale, scale]).setTranslation(translation);
    this.scene.addChild(node);
    return node;
  }

  private primitive(mesh: TileMesh) {
    const indices = mesh.positions.length / 3 <= 65535 ? new Uint16Array(mesh.indices) : new Uint32Array(mesh.indices);
    const primitive = this.document
      .createPrimitive()
      .setMaterial(this.looks.of(mesh))
      .setIndices(this.accessor('SCALAR', indices))
      .setAttribute('POSITION', this.accessor('VEC3', new Uint16Array(mesh.positions)))
      .setAttribute('COLOR_0', this.accessor('VEC4', new Uint16Array(mesh.colors)).setNormalized(true));
    if (mesh.normals)
      primitive.setAttribute('NORMAL', this.accessor('VEC3', new Int8Array(mesh.normals)).setNormalized(true));
    if (mesh.uvs) primitive.setAttribute('TEXCOORD_0', this.accessor('VEC2', new Float32Array(mesh.uvs)));
    return primitive;
  }

  /** An accessor with this content; one that is there already serves again, as for one shape in two materials. */
  private accessor(type: Parameters<Accessor['setType']>[0], array: TypedArray): Accessor {
    const bytes = Buffer.from(array.buffer, array.byteOffset, array.byteLength);
    const key = `${type}/${array.constructor.name}/${createHash('sha1').update(bytes).digest('base64')}`;
    let accessor = this.accessors.get(key);
    if (!accessor) {
      accessor = this.document.createAccessor().setType(type).setArray(array).setBuffer(this.buffer);
      this.accessors.set(key, accessor);
    }
    return accessor;
  }
}

/** The elements of a mesh, whose vertices mostly stand one element after the other. */
function elementsOf({ features }: TileMesh): Set<number> {
  const elements = new Set<number>();
  for (let i = 0; i < features.length; i++) if (features[i] !== features[i - 1]) elements.add(features[i]!);
  return elements;
}

function lookKey({ mode, curved, texture }: Look): string {
  return `${mode}/${curved}/${texture}`;
}

type TypedArray =
  Int8Array<ArrayBuffer> | Uint16Array<ArrayBuffer> | Uint32Array<ArrayBuffer> | Float32Array<ArrayBuffer>;

const GLTF_MODE = { solid: 'OPAQUE', 'cut-out': 'MASK', 'see-through': 'BLEND' } as const;

/** The materials and textures of a tile, each once. */
class Materials {
  private readonly materials = new Map<string, Material>();
  private readonly textures = new Map<number, Texture>();

  constructor(
    private readonly document: Document,
    private readonly pictures: ReadonlyMap<number, string>,
  ) {}

  of({ mode, texture, curved, isCut }: Look): Material {
    const uri = this.pictures.get(texture);
    const key = `${mode}/${curved}/${isCut}/${uri ?? ''}`;
    let material = this.materials.get(key);
    if (material) return material;
    material = this.document
      .createMaterial()
      .setDoubleSided(true)
      .setMetallicFactor(0)
      .setRoughnessFactor(1)
      .setAlphaMode(GLTF_MODE[mode]);
    if (isCut || curved) material.setExtras({ ...(isCut && { cut: true }), ...(curved && { curved: true }) });
    if (uri !== undefined) material.setBaseColorTexture(this.texture(texture, uri));
    this.materials.set(key, material);
    return material;
  }

  private texture(index: number, uri: string): Texture {
    let texture = this.textures.get(index);
    if (!texture) {
      this.document.createExtension(WebpPicturesExtension).setRequired(true);
      texture = this.document.createTexture().setURI(uri).setMimeType('image/webp');
      this.textures.set(index, texture);
    }
    return texture;
  }
}

/** What a mesh takes in the memory of a graphics card, padded; a repeated one is drawn out there, with longer positions. */
function bytesDrawn({ positions, indices, curved, uvs }: TileMesh, times: number): number {
  const vertices = (positions.length / 3) * times;
  const position = times > 1 ? 12 : 8;
  const index = times > 1 || vertices > 65535 ? 4 : 2;
  return vertices * (position + 8 + 4 + (curved ? 4 : 0) + (uvs ? 8 : 0)) + indices.length * times * index;
}

/**
 * The lattice of a tile: its step is a power of two, and its origin lies on multiples of the step. So most tiles share
 * one lattice, and a surface that is cut between them shows no crack.
 */
function gridOf(box: Box3): Grid {
  const size = Math.max(longestSide(box), 1e-3);
  const step = 2 ** Math.ceil(Math.log2(Math.max(size / (MAX_STEP - 1), Math.min(FINE_STEP, size / FINE_STEPS))));
  return { origin: [box[0], box[1], box[2]].map((low) => Math.floor(low / step) * step) as Grid['origin'], step };
}

/** Orders triangles and vertices so that neighbours lie together: better for the GPU's caches and for compression. */
function reorder(mesh: TileMesh): TileMesh {
  const indices = mesh.indices.slice();
  const [remap, unique] = MeshoptEncoder.reorderMesh(indices, true, true);
  const out: TileMesh = {
    ...mesh,
    indices,
    positions: new Uint16Array(unique * 3),
    colors: new Uint16Array(unique * 4),
    features: new Uint32Array(unique),
    normals: mesh.normals && new Int8Array(unique * 3),
    uvs: mesh.uvs && new Float32Array(unique * 2),
  };
  for (let from = 0; from < remap.length; from++) {
    const to = remap[from]!;
    if (to === 0xffffffff) continue;
    for (let c = 0; c < 3; c++) out.positions[to * 3 + c] = mesh.positions[from * 3 + c]!;
    for (let c = 0; c < 4; c++) out.colors[to * 4 + c] = mesh.colors[from * 4 + c]!;
    if (out.normals) for (let c = 0; c < 3; c++) out.normals[to * 3 + c] = mesh.normals![from * 3 + c]!;
    if (out.uvs) for (let c = 0; c < 2; c++) out.uvs[to * 2 + c] = mesh.uvs![from * 2 + c]!;
    out.features[to] = mesh.features[from]!;
  }
  return out;
}
