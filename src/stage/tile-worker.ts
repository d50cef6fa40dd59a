import { BufferAttribute, BufferGeometry } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { CREASE_ANGLE, creaseEdges, CURVED_CREASE_ANGLE } from '@/core/mesh/creases';
import { findSeams } from '@/core/mesh/seams';
import { inkLines, type InkLines } from './ink-lines';

/** Work of one tile primitive, away from the page: the search tree for picking and the ink lines. */
export interface TileTask {
  id: number;
  positions: Uint16Array | Float32Array;
  indices: Uint32Array | Uint16Array;
  /** Element a vertex. */
  elements: Uint16Array | Float32Array;
  /** What a vertex looks like. */
  looks: Uint32Array;
  /** By element: a number of its kind; 0 where its edges are drawn whatever lies beside them. */
  kinds: Uint8Array;
  /** Whether it is meant to be curved. */
  curved: boolean;
  /** Whether the rims of surfaces are drawn. */
  rims: boolean;
}

export interface TileResult {
  id: number;
  tree: ReturnType<typeof MeshBVH.serialize>;
  lines: InkLines;
}

self.onmessage = ({ data }: MessageEvent<TileTask>) => {
  const creases = creaseEdges(data.positions, data.indices, {
    angle: data.curved ? CURVED_CREASE_ANGLE : CREASE_ANGLE,
    rims: data.rims,
    groups: data.elements,
  });
  const lines = inkLines(data.positions, findSeams(data, creases));
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(data.positions, 3));
  geometry.setIndex(new BufferAttribute(data.indices, 1));
  const tree = MeshBVH.serialize(new MeshBVH(geometry), { cloneBuffers: false });
  const result: TileResult = { id: data.id, tree, lines };
  const transfer: Transferable[] = [
    ...[lines.positions, lines.ends, lines.elements, lines.beside].map((array) => array.buffer as ArrayBuffer),
    ...(tree.roots as ArrayBuffer[]),
  ];
  if (tree.index) transfer.push(tree.index.buffer as ArrayBuffer);
  self.postMessage(result, { transfer });
};
