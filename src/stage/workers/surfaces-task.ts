import { Vector3 } from 'three';
import type { TaskAnswer } from './tasks';
import { fetchTileMeshes, readTileMeshes, type TileMesh } from './tile-meshes';
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

/** Fetches a tile and makes one searchable mesh of all its surfaces. */
export async function loadSurfaces({ url }: SurfacesInput): Promise<TaskAnswer<SurfacesOutput>> {
  const output = await fetchSurfaces(url);
  const arrays = [output.positions, output.indices, output.elements].map((array) => array.buffer as ArrayBuffer);
  return { output, transfer: [...arrays, ...(output.tree ? treeBuffers(output.tree) : [])] };
}

/** @throws Error if the tile cannot be had */
export async function fetchSurfaces(url: string): Promise<SurfacesOutput> {
  return joinMeshes(await fetchTileMeshes(url));
}

/** @param glb content of a tile */
export async function readSurfaces(glb: ArrayBuffer): Promise<SurfacesOutput> {
  return joinMeshes(await readTileMeshes(glb));
}

function joinMeshes(meshes: TileMesh[]): SurfacesOutput {
  meshes.sort((a, b) => Number(a.material.transparent) - Number(b.material.transparent));
  let vertices = 0;
  let corners = 0;
  for (const { geometry } of meshes) {
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
  for (const { geometry, material, toModel } of meshes) {
    if (material.transparent) clearFrom = Math.min(clearFrom, vertex);
    const position = geometry.getAttribute('position');
    const element = geometry.getAttribute('_feature_id_0');
    for (let i = 0; i < position.count; i++) {
      at.fromBufferAttribute(position, i)
        .applyMatrix4(toModel)
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
