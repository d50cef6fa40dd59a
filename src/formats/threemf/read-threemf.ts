import { existsSync } from 'node:fs';
import { basename, extname, join, relative } from 'node:path';
import { multiply } from '@/core/math/mat4';
import type { BuildingModel } from '../building-model';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { settleFrame } from '../model-frame';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { readModelPart, type MfObject, type ModelPart } from './model-part';

const METRES: Record<string, number> = {
  micron: 1e-6,
  millimeter: 1e-3,
  centimeter: 1e-2,
  inch: 0.0254,
  foot: 0.3048,
  meter: 1,
};
const DEEPEST = 32;
const IDENTITY = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/**
 * Reads an unpacked 3MF package: build items, components, base materials and colour groups; parts of the production
 * extension too. 3MF is in millimetres unless it says otherwise, with Z up.
 *
 * @param source its path is the root model part, its `parts` the unpacked package
 * @throws ModelFileError if a part is missing or damaged, or nothing is to be built
 */
export async function readThreeMf({ path, fileName, parts }: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const loaded = new Map<string, ModelPart>();
  const load = async (name: string): Promise<ModelPart> => {
    const key = name.replace(/^\//, '');
    let part = loaded.get(key);
    if (part) return part;
    const file = join(parts!, key);
    if (!file.startsWith(parts!) || !existsSync(file))
      throw new ModelFileError('damaged', `“${fileName}” refers to a part “${key}” that it does not hold.`);
    try {
      part = await readModelPart(file);
    } catch (cause) {
      const detail = cause instanceof Error ? cause.message : String(cause);
      throw new ModelFileError('damaged', `“${fileName}” could not be read as 3MF: ${detail}.`, { cause });
    }
    loaded.set(key, part);
    return part;
  };
  const root = await load(relative(parts!, path));
  options.onProgress?.(0.5);
  const builder = new ModelBuilder({ format: '3MF', schema: root.version, fileName, program: root.program });
  const geometries = new Map<MfObject, Placed[]>();

  const place = async (part: ModelPart, id: string, matrix: number[], parent: number, depth: number): Promise<void> => {
    const object = part.objects.get(id);
    if (!object) {
      builder.model.warnings.push({ reason: `object ${id} is named but not there` });
      return;
    }
    const isMesh = object.triangles.length > 0;
    const row = builder.element({
      name: object.name || basename(fileName, extname(fileName)),
      category: isMesh ? 'Object' : 'Group',
      parent,
      facts: object.partNumber ? { Part: { Number: object.partNumber } } : {},
    });
    if (isMesh) {
      builder.model.productsWithShape++;
      let placed = geometries.get(object);
      if (!placed) {
        placed = meshes(builder, part, object);
        geometries.set(object, placed);
      }
      for (const { geometry, material } of placed) builder.place(row, geometry, material, matrix);
      if (placed.length === 0) builder.warn(row, 'its triangles refer to vertices that are not there');
    }
    if (depth > DEEPEST) return builder.warn(row, 'its components contain themselves');
    for (const component of object.components)
      await place(
        component.path ? await load(component.path) : part,
        component.objectId,
        multiply(matrix, component.matrix ?? IDENTITY) as unknown as number[],
        row,
        depth + 1,
      );
  };
  for (const item of root.items)
    await place(item.path ? await load(item.path) : root, item.objectId, item.matrix ?? IDENTITY, -1, 0);
  if (builder.model.placements.length === 0)
    throw new ModelFileError('nothing-inside', `“${fileName}” is valid 3MF but nothing in it is to be shown.`);
  const metresPerUnit = METRES[root.unit] ?? METRES.millimeter!;
  settleFrame(builder.model, { metresPerUnit, up: 'Z' }, 'Z', options.frame ?? {});
  return builder.model;
}

interface Placed {
  geometry: number;
  material: number;
}

/** The object's triangles, one geometry for each material among them. */
function meshes(builder: ModelBuilder, part: ModelPart, object: MfObject): Placed[] {
  const positions = Float32Array.from(object.vertices);
  const vertices = positions.length / 3;
  const byMaterial = new Map<number, number[]>();
  object.triangles.forEach((corners, i) => {
    if (corners.some((corner) => corner >= vertices)) return;
    const own = object.surfaces[i] ?? object.surface;
    const surface = (own && part.surfaces.get(own.group)?.[own.index]) ?? { name: '', color: [0.85, 0.83, 0.78, 1] };
    const material = builder.material({ name: surface.name, color: surface.color as [number, number, number, number] });
    const list = byMaterial.get(material) ?? [];
    list.push(...corners);
    byMaterial.set(material, list);
  });
  return [...byMaterial].map(([material, indices]) => ({
    material,
    geometry: builder.geometry({ positions, indices: Uint32Array.from(indices) }),
  }));
}
