import type { Vec3 } from '@/core/math/mat4';
import { subtract } from '@/core/math/vec3';
import type { TriangleMesh } from '@/core/section/crossing';
import { ModelFileError } from '@/formats/model-file-error';
import { elementMeshes } from '@/publish/element-meshes';
import { elementDistance, type Triangles } from '@/stage/workers/distance-task';
import { withOneLineErrors } from './one-line-errors';
import { readModels } from './read-models';

export interface DistanceOptions {
  /** Guids of the two elements, in any of the files. */
  from: string;
  to: string;
  json?: boolean;
}

/**
 * `yurta distance FILE… --from GUID --to GUID`: the shortest distance between two elements and the two points that have it,
 * metres, project coordinates, Z up.
 *
 * @returns the exit code: 0, or 2 if an element is not there or a file is wrong
 */
export async function distance(files: string[], { from, to, json }: DistanceOptions): Promise<number> {
  return withOneLineErrors('distance', async () => {
    const found = new Map<string, TriangleMesh[]>();
    for await (const model of readModels(files)) {
      const rows = [from, to].map((guid) => (found.has(guid) ? -1 : model.elements.guid.indexOf(guid)));
      const placements = model.placements.filter(({ element }) => rows.includes(element));
      const meshes = elementMeshes({ ...model, placements });
      for (const row of rows) if (row >= 0) found.set(model.elements.guid[row]!, meshes[row]!);
    }
    const [one, other] = [from, to].map((guid) => {
      const meshes = found.get(guid);
      if (!meshes) throw new ModelFileError('empty', `There is no element “${guid}” in these files.`);
      if (meshes.length === 0) throw new ModelFileError('empty', `The element “${guid}” has no shape.`);
      return meshes;
    }) as [TriangleMesh[], TriangleMesh[]];
    print(measure(one, other), json === true);
  });
}

interface Distance {
  distance: number;
  a: Vec3;
  b: Vec3;
  /** From a to b along x, y and z. */
  components: Vec3;
}

function measure(one: TriangleMesh[], other: TriangleMesh[]): Distance {
  // Seen from a corner of the first, so that single precision is enough however far from zero the model is.
  const origin = [...one[0]!.positions.slice(0, 3)] as Vec3;
  const { output } = elementDistance({ a: joined(one, origin), b: joined(other, origin) });
  const back = (point: Vec3) => point.map((value, axis) => value + origin[axis]!) as Vec3;
  const [a, b] = [back(output!.from), back(output!.to)];
  return { distance: output!.distance, a, b, components: subtract(b, a) };
}

function joined(meshes: readonly TriangleMesh[], origin: Vec3): Triangles {
  const positions: number[] = [];
  const indices: number[] = [];
  for (const mesh of meshes) {
    const first = positions.length / 3;
    mesh.positions.forEach((value, i) => positions.push(value - origin[i % 3]!));
    mesh.indices.forEach((index) => indices.push(first + index));
  }
  return { positions: Float32Array.from(positions), indices: Uint32Array.from(indices) };
}

function print(found: Distance, json: boolean): void {
  const words = (point: Vec3) => point.map((value) => value.toFixed(3)).join(', ');
  console.log(
    json
      ? JSON.stringify(found)
      : `${found.distance.toFixed(4)} m, from (${words(found.a)}) to (${words(found.b)}); along x, y, z ${words(found.components)}`,
  );
}
