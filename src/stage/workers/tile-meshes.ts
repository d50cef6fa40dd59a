import { Matrix4, Mesh, type BufferGeometry, type Material } from 'three';
import { Y_UP_TO_Z_UP } from '@/core/math/mat4';
import { drawOut } from '../model/draw-out';
import { plainAttributes } from '../model/plain-attributes';
import { tileLoader } from '../model/tile-loader';

export interface TileMesh {
  /** With plain attributes: positions, `_feature_id_0`, maybe colours. */
  geometry: BufferGeometry;
  material: Material;
  /** From the mesh to the model's own frame: metres, Z up. */
  toModel: Matrix4;
}

/** @throws Error if the tile cannot be had */
export async function fetchTileMeshes(url: string): Promise<TileMesh[]> {
  const answer = await fetch(url);
  if (!answer.ok) throw new Error(`A part of the model could not be loaded (${answer.status}).`);
  return readTileMeshes(await answer.arrayBuffer());
}

/** @param glb content of a tile */
export async function readTileMeshes(glb: ArrayBuffer): Promise<TileMesh[]> {
  const { scene } = await tileLoader().parseAsync(glb, '');
  drawOut(scene);
  scene.updateMatrixWorld(true);
  const meshes: TileMesh[] = [];
  scene.traverse((object) => {
    if (!(object instanceof Mesh)) return;
    const { geometry, material, matrixWorld } = object as Mesh<BufferGeometry, Material>;
    plainAttributes(geometry);
    meshes.push({ geometry, material, toModel: new Matrix4().fromArray(Y_UP_TO_Z_UP).multiply(matrixWorld) });
  });
  return meshes;
}
