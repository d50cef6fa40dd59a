import { BufferAttribute, BufferGeometry } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { CREASE_ANGLE, creaseEdges, CURVED_CREASE_ANGLE } from '@/core/mesh/creases';
import { findSeams } from '@/core/mesh/seams';
import { inkLines, type InkLines } from '../model/ink-lines';
import type { TaskAnswer } from './tasks';

/** What the search tree for picking and the ink lines of one tile primitive are made from. */
export interface TileInput {
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

export type SerialisedTree = ReturnType<typeof MeshBVH.serialize>;

export interface TileOutput {
  tree: SerialisedTree;
  lines: InkLines;
}

export function prepareTile(input: TileInput): TaskAnswer<TileOutput> {
  const creases = creaseEdges(input.positions, input.indices, {
    angle: input.curved ? CURVED_CREASE_ANGLE : CREASE_ANGLE,
    rims: input.rims,
    groups: input.elements,
  });
  const lines = inkLines(input.positions, findSeams(input, creases));
  const tree = searchTree(input.positions, input.indices);
  const arrays = [lines.positions, lines.ends, lines.elements, lines.beside];
  return {
    output: { tree, lines },
    transfer: [...arrays.map((array) => array.buffer as ArrayBuffer), ...treeBuffers(tree)],
  };
}

export function searchTree(positions: Uint16Array | Float32Array, indices: Uint32Array | Uint16Array): SerialisedTree {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  geometry.setIndex(new BufferAttribute(indices, 1));
  return MeshBVH.serialize(new MeshBVH(geometry), { cloneBuffers: false });
}

export function treeBuffers(tree: SerialisedTree): ArrayBuffer[] {
  return [...(tree.roots as ArrayBuffer[]), ...(tree.index ? [tree.index.buffer as ArrayBuffer] : [])];
}
