import type { Accessor } from '@gltf-transform/core';
import { Document, NodeIO } from '@gltf-transform/core';
import { EXTMeshoptCompression, KHRMeshQuantization } from '@gltf-transform/extensions';
import { MeshoptEncoder } from 'meshoptimizer';
import { boxSize, type Box3 } from '@/core/math/box3';
import type { SurfaceMaterial } from '@/formats/building-model';
import type { Piece } from './element-geometry';
import { MeshFeaturesExtension } from './mesh-features-extension';
import { weldPieces, type Grid, type TileMesh } from './weld';

const MAX_STEP = 65535;

export interface EncodedTile {
  glb: Uint8Array;
  triangles: number;
  /** Rows of the elements that show at least one triangle. */
  elements: Set<number>;
  /** Largest distance by which rounding to the grid moved a vertex along an axis, in metres: half a step. */
  quantisationError: number;
}

/**
 * One tile as GLB: at most two primitives (opaque and see-through), uint16 positions (KHR_mesh_quantization), the
 * element index of every vertex (EXT_mesh_features), vertex colours, meshopt-compressed. No normals: surfaces are flat
 * and the viewer derives them.
 *
 * @returns null if no triangle of the pieces survives rounding
 */
export async function encodeTile(
  pieces: Piece[],
  box: Box3,
  materials: SurfaceMaterial[],
): Promise<EncodedTile | null> {
  await MeshoptEncoder.ready;
  const grid = gridOf(box);
  const { origin, step } = grid;
  const meshes = [true, false].map((opaque) => weldPieces(pieces, materials, grid, MAX_STEP, opaque));
  if (meshes.every((mesh) => mesh === null)) return null;

  const document = new Document();
  document.createExtension(KHRMeshQuantization).setRequired(true);
  document
    .createExtension(EXTMeshoptCompression)
    .setRequired(true)
    .setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.QUANTIZE });
  const features = document.createExtension(MeshFeaturesExtension);
  const buffer = document.createBuffer();
  const target = document.createMesh();
  const elements = new Set<number>();
  meshes.forEach((mesh, i) => {
    if (!mesh) return;
    const ordered = reorder(mesh);
    for (const element of ordered.features) elements.add(element);
    const material = document.createMaterial().setDoubleSided(true).setMetallicFactor(0).setRoughnessFactor(1);
    if (i === 1) material.setAlphaMode('BLEND');
    const accessor = (
      type: Parameters<Accessor['setType']>[0],
      array: Uint16Array<ArrayBuffer> | Uint32Array<ArrayBuffer> | Float32Array<ArrayBuffer>,
    ) => document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
    const highest = ordered.features.reduce((max, id) => Math.max(max, id), 0);
    const ids = highest <= 65535 ? Uint16Array.from(ordered.features) : Float32Array.from(ordered.features);
    const primitive = document
      .createPrimitive()
      .setMaterial(material)
      .setIndices(
        accessor(
          'SCALAR',
          ordered.positions.length / 3 <= 65535 ? Uint16Array.from(ordered.indices) : Uint32Array.from(ordered.indices),
        ),
      )
      .setAttribute('POSITION', accessor('VEC3', Uint16Array.from(ordered.positions)))
      .setAttribute('COLOR_0', accessor('VEC4', Uint16Array.from(ordered.colors)).setNormalized(true))
      .setAttribute('_FEATURE_ID_0', accessor('SCALAR', ids));
    primitive.setExtension(
      'EXT_mesh_features',
      features.createMeshFeatures().setFeatureCount(new Set(ordered.features).size),
    );
    target.addPrimitive(primitive);
  });
  // Steps back to metres; -y was counted from the far side of the grid.
  const node = document
    .createNode()
    .setMesh(target)
    .setScale([step, step, step])
    .setTranslation([origin[0], origin[2], -(origin[1] + MAX_STEP * step)]);
  document.createScene().addChild(node);
  const io = new NodeIO()
    .registerExtensions([KHRMeshQuantization, EXTMeshoptCompression, MeshFeaturesExtension])
    .registerDependencies({ 'meshopt.encoder': MeshoptEncoder });
  const triangles = meshes.reduce((sum, mesh) => sum + (mesh ? mesh.indices.length / 3 : 0), 0);
  return { glb: await io.writeBinary(document), triangles, elements, quantisationError: step / 2 };
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
    indices,
    positions: new Uint16Array(unique * 3),
    colors: new Uint16Array(unique * 4),
    features: new Uint32Array(unique),
  };
  for (let from = 0; from < remap.length; from++) {
    const to = remap[from]!;
    if (to === 0xffffffff) continue;
    for (let c = 0; c < 3; c++) out.positions[to * 3 + c] = mesh.positions[from * 3 + c]!;
    for (let c = 0; c < 4; c++) out.colors[to * 4 + c] = mesh.colors[from * 4 + c]!;
    out.features[to] = mesh.features[from]!;
  }
  return out;
}
