import { readFileSync } from 'node:fs';
import { basename, extname, relative } from 'node:path';
import { multiply } from '@/core/math/mat4';
import type { BuildingModel, Geometry } from '../building-model';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { agreeFrame } from '../model-frame';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { unreadExtensions } from '../unread-extensions';
import { readModelPart, type MfObject, type ModelPart } from './model-part';
import { PackageParts } from './package-parts';

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
 * Reads an unpacked 3MF package: build items, components, base materials, colour groups and pictures; parts of the production
 * extension too. 3MF is in millimetres unless it says otherwise, with Z up.
 *
 * @param source its path is the root model part, its `parts` the unpacked package
 * @throws ModelFileError if a part is missing or damaged, or nothing is to be built
 */
export async function readThreeMf({ path, fileName, parts }: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const pack = new PackageParts(parts!);
  const loaded = new Map<string, ModelPart>();
  const load = async (name: string): Promise<ModelPart> => {
    const file = pack.path(name);
    if (!file) throw new ModelFileError('damaged', `“${fileName}” refers to a part “${name}” that it does not hold.`);
    let part = loaded.get(file);
    if (part) return part;
    try {
      part = await readModelPart(file);
    } catch (cause) {
      const detail = cause instanceof Error ? cause.message : String(cause);
      throw new ModelFileError('damaged', `“${fileName}” could not be read as 3MF: ${detail}.`, { cause });
    }
    loaded.set(file, part);
    return part;
  };
  const root = await load(relative(parts!, path));
  options.onProgress?.(0.5);
  const builder = new ModelBuilder({ format: '3MF', schema: root.version, fileName, program: root.program });
  const geometries = new Map<MfObject, Placed[]>();
  const pictureOf = packagedPictures(builder, pack);

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
        placed = meshes(builder, part, object, pictureOf);
        geometries.set(object, placed);
      }
      for (const { geometry, material } of placed) builder.place(row, geometry, material, matrix);
      if (placed.length === 0) builder.warn(row, 'its triangles refer to vertices that are not there');
    }
    if (object.beams > 0)
      builder.warn(row, `the beams of its lattice (${object.beams}) are not shown; export it as a mesh`);
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
  const unread = new Set([...loaded.values()].flatMap((part) => part.unreadExtensions));
  builder.model.warnings.push(...unreadExtensions(unread));
  const metresPerUnit = METRES[root.unit] ?? METRES.millimeter!;
  agreeFrame(builder.model, { metresPerUnit, up: 'Z' }, 'Z', options.frame ?? {});
  return builder.model;
}

/** Finds pictures by the name of the part that holds them; one that is not there is reported once. */
function packagedPictures(builder: ModelBuilder, pack: PackageParts): (name: string) => number | undefined {
  const known = new Map<string, number | undefined>();
  return (name) => {
    if (known.has(name)) return known.get(name);
    const file = pack.path(name);
    if (!file)
      builder.model.warnings.push({
        reason: `the picture “${name.slice(0, 120)}” is not in the package, so its surfaces show one plain colour`,
      });
    const index = file ? builder.texture(name, readFileSync(file)) : undefined;
    known.set(name, index);
    return index;
  };
}

interface Placed {
  geometry: number;
  material: number;
}

/** Triangles of one material, with places in its picture where it has one. */
class Patch {
  readonly indices: number[] = [];
  private readonly positions: number[] = [];
  private readonly uvs: number[] = [];
  private readonly known = new Map<string, number>();

  /** A corner that lies at a place in the picture. */
  add(vertices: number[], vertex: number, [u, v]: [number, number]): void {
    const key = `${vertex}/${u}/${v}`;
    let own = this.known.get(key);
    if (own === undefined) {
      own = this.known.size;
      this.known.set(key, own);
      this.positions.push(...vertices.slice(vertex * 3, vertex * 3 + 3));
      this.uvs.push(u, 1 - v); // rows are counted from below
    }
    this.indices.push(own);
  }

  /** @param positions of the whole object, where nothing lies in a picture */
  geometry(positions: Float32Array): Geometry {
    const indices = Uint32Array.from(this.indices);
    if (this.known.size === 0) return { positions, indices };
    return { positions: Float32Array.from(this.positions), indices, uvs: Float32Array.from(this.uvs) };
  }
}

/** The object's triangles, one geometry for each material among them. */
function meshes(
  builder: ModelBuilder,
  part: ModelPart,
  object: MfObject,
  pictureOf: (name: string) => number | undefined,
): Placed[] {
  const positions = Float32Array.from(object.vertices);
  const vertices = positions.length / 3;
  const byMaterial = new Map<number, Patch>();
  object.triangles.forEach((corners, i) => {
    if (corners.some((corner) => corner >= vertices)) return;
    const own = object.surfaces[i] ?? object.surface;
    const group = own ? (part.surfaces.get(own.group) ?? []) : [];
    const kinds = (own?.corners ?? [own?.index ?? 0, own?.index ?? 0, own?.index ?? 0]).map((index) => group[index]);
    const [first] = kinds;
    const texture = first?.picture && pictureOf(part.pictures.get(first.picture.id) ?? '');
    const material = builder.material({
      name: first?.name ?? '',
      color: first?.color ?? [0.85, 0.83, 0.78, 1],
      ...(texture !== undefined && { texture }),
    });
    const patch = byMaterial.get(material) ?? new Patch();
    if (texture === undefined) patch.indices.push(...corners);
    else corners.forEach((corner, k) => patch.add(object.vertices, corner, kinds[k]?.picture?.at ?? [0, 0]));
    byMaterial.set(material, patch);
  });
  return [...byMaterial].map(([material, patch]) => ({
    material,
    geometry: builder.geometry(patch.geometry(positions)),
  }));
}
