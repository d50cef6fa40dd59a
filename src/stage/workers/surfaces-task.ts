import { Matrix4, Mesh, Vector3, type BufferGeometry, type Material, type Object3D } from 'three';
import { drawOut } from '../model/draw-out';
import { plainAttributes } from '../model/plain-attributes';
import { tileLoader } from '../model/tile-loader';
import type { TaskAnswer } from './tasks';
import { searchTree, treeBuffers, type SerialisedTree } from './tile-task';

export interface SurfacesInput {
  /** Address of a tile. */
  url: string;
}

/** The surfaces of one tile, in the model's own frame: metres, Z up, near zero. */
export interface SurfacesOutput {
  /** Three coordinates a vertex. */
  positions: Float32Array;
  indices: Uint32Array;
  /** Element a vertex. */
  elements: Uint32Array;
  /** From this vertex on surfaces are see-through, such as glass. */
  clearFrom: number;
  /** Null for a tile without any surface. */
  tree: SerialisedTree | null;
}

/** A tile's content has Y up, as glTF has. */
const Y_UP_TO_Z_UP = new Matrix4().makeRotationX(Math.PI / 2);

/** Fetches a tile and makes one searchable mesh of all its surfaces. */
export async function loadSurfaces({ url }: SurfacesInput): Promise<TaskAnswer<SurfacesOutput>> {
  const output = await fetchSurfaces(url);
  const arrays = [output.positions, output.indices, output.elements].map((array) => array.buffer as ArrayBuffer);
  return { output, transfer: [...arrays, ...(output.tree ? treeBuffers(output.tree) : [])] };
}

/** @throws Error if the tile cannot be had */
export async function fetchSurfaces(url: string): Promise<SurfacesOutput> {
  const answer = await fetch(url);
  if (!answer.ok) throw new Error(`A part of the model could not be loaded (${answer.status}).`);
  return readSurfaces(await answer.arrayBuffer());
}

/** @param glb content of a tile */
export async function readSurfaces(glb: ArrayBuffer): Promise<SurfacesOutput> {
  const { scene } = await tileLoader().parseAsync(glb, '');
  drawOut(scene);
  scene.updateMatrixWorld(true);
  return joinMeshes(scene);
}

function joinMeshes(scene: Object3D): SurfacesOutput {
  const meshes: Mesh<BufferGeometry, Material>[] = [];
  scene.traverse((object) => {
    if (object instanceof Mesh) meshes.push(object as Mesh<BufferGeometry, Material>);
  });
  meshes.sort((a, b) => Number(a.material.transparent) - Number(b.material.transparent));
  let vertices = 0;
  let corners = 0;
  for (const { geometry } of meshes) {
    plainAttributes(geometry);
    vertices += geometry.getAttribute('position').count;
    corners += geometry.index!.count;
  }
  const positions = new Float32Array(vertices * 3);
  const elements = new Uint32Array(vertices);
  const indices = new Uint32Array(corners);
  let vertex = 0;
  let corner = 0;
  const at = new Vector3();
  let clearFrom = vertices;
  for (const { geometry, material, matrixWorld } of meshes) {
    if (material.transparent) clearFrom = Math.min(clearFrom, vertex);
    const matrix = Y_UP_TO_Z_UP.clone().multiply(matrixWorld);
    const position = geometry.getAttribute('position');
    const element = geometry.getAttribute('_feature_id_0');
    for (let i = 0; i < position.count; i++) {
      at.fromBufferAttribute(position, i)
        .applyMatrix4(matrix)
        .toArray(positions, (vertex + i) * 3);
      elements[vertex + i] = Math.round(element.getX(i));
    }
    const own = geometry.index!.array;
    for (let i = 0; i < own.length; i++) indices[corner + i] = own[i]! + vertex;
    vertex += position.count;
    corner += own.length;
  }
  return { positions, indices, elements, clearFrom, tree: corners > 0 ? searchTree(positions, indices) : null };
}
