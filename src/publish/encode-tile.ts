import { Document, NodeIO, type Accessor, type Material, type Texture } from '@gltf-transform/core';
import { EXTMeshoptCompression, KHRMeshQuantization } from '@gltf-transform/extensions';
import { MeshoptEncoder } from 'meshoptimizer';
import { boxSize, type Box3 } from '@/core/math/box3';
import { MeshFeaturesExtension } from './mesh-features-extension';
import type { Surface } from './pictures';
import { WebpPicturesExtension } from './webp-pictures-extension';
import { weldPieces, type Grid, type Look, type TileMesh, type TilePiece } from './weld';

const MAX_STEP = 65535;

export interface EncodedTile {
  glb: Uint8Array;
  triangles: number;
  /** Draw calls that it needs. */
  primitives: number;
  /** Bytes of its vertices and triangles in the memory of a graphics card, without pictures. */
  bytesDrawn: number;
  /** Textures that it shows. */
  textures: Set<number>;
  /** Rows of the elements that show at least one triangle. */
  elements: Set<number>;
  /** Largest distance by which rounding to the grid moved a vertex along an axis, in metres: half a step. */
  quantisationError: number;
}

/**
 * One tile as GLB: a primitive for each look, uint16 positions (KHR_mesh_quantization), the element index of every
 * vertex (EXT_mesh_features), vertex colours, meshopt-compressed. Normals travel only where a surface is curved or shows
 * a picture; elsewhere the viewer derives them. Pictures lie beside the tile (EXT_texture_webp). A material with
 * `extras.cut` is that of surfaces that go on in other tiles.
 *
 * @param pictures address of a picture by the index of its texture, relative to the tile
 * @returns null if no triangle of the pieces survives rounding
 */
export async function encodeTile(
  pieces: TilePiece[],
  box: Box3,
  surfaces: Surface[],
  pictures: ReadonlyMap<number, string> = new Map(),
): Promise<EncodedTile | null> {
  await MeshoptEncoder.ready;
  const grid = gridOf(box);
  const { origin, step } = grid;
  const meshes = weldPieces(pieces, surfaces, grid, MAX_STEP).map(reorder);
  if (meshes.length === 0) return null;

  const document = new Document();
  document.createExtension(KHRMeshQuantization).setRequired(true);
  document
    .createExtension(EXTMeshoptCompression)
    .setRequired(true)
    .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.QUANTIZE });
  const features = document.createExtension(MeshFeaturesExtension);
  const looks = new Materials(document, pictures);
  const buffer = document.createBuffer();
  const target = document.createMesh();
  const elements = new Set<number>();
  const accessor = (type: Parameters<Accessor['setType']>[0], array: TypedArray) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  for (const mesh of meshes) {
    for (const element of mesh.features) elements.add(element);
    const highest = mesh.features.reduce((max, id) => Math.max(max, id), 0);
    const ids = highest <= 65535 ? Uint16Array.from(mesh.features) : Float32Array.from(mesh.features);
    const indices =
      mesh.positions.length / 3 <= 65535 ? Uint16Array.from(mesh.indices) : Uint32Array.from(mesh.indices);
    const primitive = document
      .createPrimitive()
      .setMaterial(looks.of(mesh))
      .setIndices(accessor('SCALAR', indices))
      .setAttribute('POSITION', accessor('VEC3', Uint16Array.from(mesh.positions)))
      .setAttribute('COLOR_0', accessor('VEC4', Uint16Array.from(mesh.colors)).setNormalized(true))
      .setAttribute('_FEATURE_ID_0', accessor('SCALAR', ids));
    if (mesh.normals)
      primitive.setAttribute('NORMAL', accessor('VEC3', Int8Array.from(mesh.normals)).setNormalized(true));
    if (mesh.uvs) primitive.setAttribute('TEXCOORD_0', accessor('VEC2', Float32Array.from(mesh.uvs)));
    primitive.setExtension(
      'EXT_mesh_features',
      features.createMeshFeatures().setFeatureCount(new Set(mesh.features).size),
    );
    target.addPrimitive(primitive);
  }
  // Steps back to metres; -y was counted from the far side of the grid.
  const node = document
    .createNode()
    .setMesh(target)
    .setScale([step, step, step])
    .setTranslation([origin[0], origin[2], -(origin[1] + MAX_STEP * step)]);
  document.createScene().addChild(node);
  const io = new NodeIO()
    .registerExtensions([KHRMeshQuantization, EXTMeshoptCompression, MeshFeaturesExtension, WebpPicturesExtension])
    .registerDependencies({ 'meshopt.encoder': MeshoptEncoder });
  const triangles = meshes.reduce((sum, mesh) => sum + mesh.indices.length / 3, 0);
  return {
    glb: await io.writeBinary(document),
    triangles,
    primitives: meshes.length,
    bytesDrawn: meshes.reduce((sum, mesh) => sum + bytesDrawn(mesh), 0),
    textures: new Set(meshes.map((mesh) => mesh.texture).filter((texture) => pictures.has(texture))),
    elements,
    quantisationError: step / 2,
  };
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

  of({ mode, texture, isCut }: Look): Material {
    const uri = this.pictures.get(texture);
    const key = `${mode}/${isCut}/${uri ?? ''}`;
    let material = this.materials.get(key);
    if (material) return material;
    material = this.document
      .createMaterial()
      .setDoubleSided(true)
      .setMetallicFactor(0)
      .setRoughnessFactor(1)
      .setAlphaMode(GLTF_MODE[mode]);
    if (isCut) material.setExtras({ cut: true });
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

/** What a mesh takes in the memory of a graphics card: padded attributes and indices. */
function bytesDrawn({ positions, indices, normals, uvs }: TileMesh): number {
  const vertices = positions.length / 3;
  return vertices * (8 + 8 + 4 + (normals ? 4 : 0) + (uvs ? 8 : 0)) + indices.length * (vertices <= 65535 ? 2 : 4);
}

/**
 * The lattice of a tile: its step is a power of two, and its origin lies on multiples of the step. So tiles of about
 * one size share one lattice, and a surface that is cut between them shows no crack.
 */
function gridOf(box: Box3): Grid {
  const size = Math.max(...boxSize(box), 1e-3);
  const step = 2 ** Math.ceil(Math.log2(size / (MAX_STEP - 1)));
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
