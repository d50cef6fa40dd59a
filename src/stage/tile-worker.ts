import { BufferAttribute, BufferGeometry } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { CREASE_ANGLE, creaseEdges, CURVED_CREASE_ANGLE } from '@/core/mesh/creases';

/** Work of one tile primitive, away from the page: the search tree for picking and the ink lines. */
export interface TileTask {
  id: number;
  positions: Uint16Array | Float32Array;
  indices: Uint32Array | Uint16Array;
  /** Element a vertex. */
  elements: Uint16Array | Float32Array;
  /** Whether it is meant to be curved. */
  curved: boolean;
  /** Whether the rims of surfaces are drawn. */
  rims: boolean;
}

export interface TileResult {
  id: number;
  tree: ReturnType<typeof MeshBVH.serialize>;
  lines: Uint32Array;
}

self.onmessage = ({ data }: MessageEvent<TileTask>) => {
  const lines = creaseEdges(data.positions, data.indices, {
    angle: data.curved ? CURVED_CREASE_ANGLE : CREASE_ANGLE,
    rims: data.rims,
    groups: data.elements,
  });
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(data.positions, 3));
  geometry.setIndex(new BufferAttribute(data.indices, 1));
  const tree = MeshBVH.serialize(new MeshBVH(geometry), { cloneBuffers: false });
  const result: TileResult = { id: data.id, tree, lines };
  const transfer: Transferable[] = [lines.buffer as ArrayBuffer, ...(tree.roots as ArrayBuffer[])];
  if (tree.index) transfer.push(tree.index.buffer as ArrayBuffer);
  self.postMessage(result, { transfer });
};
