import { Color, Matrix4, Vector3, type BufferAttribute } from 'three';
import type { Taken, TakenElement } from '@/core/take/taken';
import type { TaskAnswer } from './tasks';
import { fetchTileMeshes, type TileMesh } from './tile-meshes';

/** What of one model is taken along. */
export interface TakenModel {
  /** Addresses of its finest tiles. */
  tiles: string[];
  /** From the model's own frame to the project, column by column; then what is added to it, metres. */
  matrix: number[];
  zero: [number, number, number];
  /** By row: the element, or null for one that stays. */
  elements: (Omit<TakenElement, 'surfaces'> | null)[];
}

export interface TakeInput {
  format: 'glb' | 'ifc';
  models: TakenModel[];
  about: Omit<Taken, 'elements'>;
}

/** Makes one file of elements of several models, at full detail. */
export async function takeAlong({ format, models, about }: TakeInput): Promise<TaskAnswer<Uint8Array<ArrayBuffer>>> {
  const elements: TakenElement[] = [];
  for (const model of models) elements.push(...(await elementsOf(model)));
  const taken = { ...about, elements };
  const bytes =
    format === 'glb'
      ? await (await import('@/core/take/write-glb')).writeGlb(taken)
      : new TextEncoder().encode((await import('@/core/take/write-ifc')).writeIfc(taken));
  const output = new Uint8Array(bytes);
  return { output, transfer: [output.buffer] };
}

/** Vertices of one colour of an element, while they are gathered. */
interface Gathered {
  colour: [number, number, number, number];
  positions: number[];
  indices: number[];
}

async function elementsOf({ tiles, matrix, zero, elements }: TakenModel): Promise<TakenElement[]> {
  const surfaces = new Map<number, Map<string, Gathered>>();
  const toProject = new Matrix4().fromArray(matrix);
  for (const url of tiles) for (const mesh of await fetchTileMeshes(url)) gather(mesh, toProject, elements, surfaces);
  return [...surfaces].map(([row, colours]) => ({
    ...elements[row]!,
    surfaces: [...colours.values()].map(({ colour, positions, indices }) => ({
      colour,
      positions: Float64Array.from(positions, (value, i) => value + zero[i % 3]!),
      indices: Uint32Array.from(indices),
    })),
  }));
}

function gather(
  { geometry, toModel }: TileMesh,
  toProject: Matrix4,
  elements: TakenModel['elements'],
  surfaces: Map<number, Map<string, Gathered>>,
): void {
  const whole = toProject.clone().multiply(toModel);
  const position = geometry.getAttribute('position');
  const element = geometry.getAttribute('_feature_id_0');
  const color = geometry.getAttribute('color') as BufferAttribute;
  const index = geometry.index!;
  const at = new Vector3();
  // One part of the tile is done before the next: its vertices have numbers of their own.
  const inThisMesh = new Map<Gathered, Map<number, number>>();
  for (let corner = 0; corner < index.count; corner++) {
    const vertex = index.getX(corner);
    const row = Math.round(element.getX(vertex));
    if (!elements[row]) continue;
    const colour = colourAt(color, vertex);
    const ofRow = surfaces.get(row) ?? new Map<string, Gathered>();
    surfaces.set(row, ofRow);
    const key = colour.join();
    const one = ofRow.get(key) ?? { colour, positions: [], indices: [] };
    ofRow.set(key, one);
    const vertexOf = inThisMesh.get(one) ?? new Map<number, number>();
    inThisMesh.set(one, vertexOf);
    let own = vertexOf.get(vertex);
    if (own === undefined) {
      own = one.positions.length / 3;
      vertexOf.set(vertex, own);
      at.fromBufferAttribute(position, vertex).applyMatrix4(whole);
      one.positions.push(at.x, at.y, at.z);
    }
    one.indices.push(own);
  }
}

function colourAt(color: BufferAttribute, vertex: number): [number, number, number, number] {
  const { r, g, b } = new Color().fromBufferAttribute(color, vertex).convertLinearToSRGB();
  return [Math.round(255 * r), Math.round(255 * g), Math.round(255 * b), Math.round(255 * color.getW(vertex))];
}
