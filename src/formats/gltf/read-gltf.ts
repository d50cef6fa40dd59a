import { createHash } from 'node:crypto';
import { open } from 'node:fs/promises';
import { NodeIO, Primitive, type Document, type Node } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import draco3d from 'draco3dgltf';
import { MeshoptDecoder } from 'meshoptimizer';
import { multiply, Y_UP_TO_Z_UP } from '@/core/math/mat4';
import { emptyElementTable, type BuildingModel, type PropertySets } from '../building-model';
import { ModelFileError } from '../model-file-error';
import type { ReadOptions } from '../read-model';

/**
 * Reads glTF 2.0 (.glb, or .gltf with its data inside) into a building model. A node with a mesh becomes an element;
 * a node that only groups becomes an element without geometry; `extras` become facts. glTF has no identity of its own,
 * so an element's guid is derived from its path of node names, which survives an export of the same scene.
 *
 * @throws ModelFileError if lengths do not fit, data are missing or the scene is empty
 */
export async function readGltf(path: string, fileName: string, options: ReadOptions): Promise<BuildingModel> {
  await checkGlbLengths(path, fileName);
  const document = await parse(path, fileName);
  options.onProgress?.(0.4);
  const model = convert(document, fileName);
  if (model.placements.length === 0) {
    throw new ModelFileError('nothing-inside', `“${fileName}” is valid glTF but its scene shows no triangles.`);
  }
  options.onProgress?.(1);
  return model;
}

/** The GLB header announces the file's length; a copy cut short or a forged header shows here, before any parsing. */
async function checkGlbLengths(path: string, fileName: string): Promise<void> {
  const file = await open(path);
  try {
    const { size } = await file.stat();
    const { buffer: head, bytesRead } = await file.read(Buffer.alloc(20), 0, 20, 0);
    if (head.toString('latin1', 0, 4) !== 'glTF') return;
    if (bytesRead < 20)
      throw new ModelFileError('truncated', `“${fileName}” is a GLB that breaks off within its header.`);
    const version = head.readUInt32LE(4);
    if (version !== 2)
      throw new ModelFileError('unsupported', `“${fileName}” is glTF version ${version}; Yurta reads version 2.0.`);
    const announced = head.readUInt32LE(8);
    const jsonLength = head.readUInt32LE(12);
    if (announced > size) {
      throw new ModelFileError(
        'truncated',
        `“${fileName}” announces ${announced} bytes but has ${size}: the copy was cut short. Copy or export it again.`,
      );
    }
    if (announced < size || jsonLength + 20 > announced) {
      throw new ModelFileError(
        'damaged',
        `“${fileName}” is a GLB whose announced lengths do not fit the file (${announced} of ${size} bytes). Export it again.`,
      );
    }
  } finally {
    await file.close();
  }
}

async function parse(path: string, fileName: string): Promise<Document> {
  const io = new NodeIO().registerExtensions(ALL_EXTENSIONS).registerDependencies({
    'meshopt.decoder': MeshoptDecoder,
    'draco3d.decoder': await draco3d.createDecoderModule(),
  });
  try {
    return await io.read(path);
  } catch (cause) {
    const detail = cause instanceof Error ? cause.message : String(cause);
    if (/ENOENT|no such file/i.test(detail)) {
      throw new ModelFileError(
        'damaged',
        `“${fileName}” refers to other files (buffers or pictures) that did not come with it. Export it as one .glb file.`,
        { cause },
      );
    }
    throw new ModelFileError('damaged', `“${fileName}” could not be read as glTF: ${detail}`, { cause });
  }
}

function convert(document: Document, fileName: string): BuildingModel {
  const root = document.getRoot();
  const asset = root.getAsset();
  const model: BuildingModel = {
    source: { format: 'glTF', schema: asset.version, fileName, program: asset.generator ?? '' },
    elements: emptyElementTable(),
    geometries: [],
    materials: [],
    placements: [],
    properties: [],
    storeys: [],
    georeference: null,
    cameras: [],
    warnings: [],
    leftOut: [],
    productsWithShape: 0,
  };
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  const siblings = new Map<string, number>();
  const pools = { materials: new Map<unknown, number>(), geometries: new Map<Primitive, number>() };

  const visit = (node: Node, parent: number, parentPath: string, category: string): void => {
    const base = `${parentPath}/${node.getName() || 'node'}`;
    const nth = siblings.get(base) ?? 0;
    siblings.set(base, nth + 1);
    const nodePath = nth === 0 ? base : `${base}#${nth}`;

    const row = model.elements.guid.length;
    const name = node.getName() || node.getMesh()?.getName() || 'Object';
    const table = model.elements;
    table.guid.push(guidFromPath(nodePath));
    table.name.push(name);
    table.category.push(node.getMesh() ? category : 'Group');
    table.storey.push(-1);
    table.room.push('');
    table.system.push('');
    table.discipline.push('');
    table.parent.push(parent);
    table.material.push(
      [
        ...new Set(
          node
            .getMesh()
            ?.listPrimitives()
            .map((primitive) => primitive.getMaterial()?.getName() ?? '') ?? [],
        ),
      ]
        .filter(Boolean)
        .join(', '),
    );
    model.properties.push(extrasAsFacts(node.getExtras()));
    if (node.getMesh()) addMesh(model, node, row, pools);
    const childCategory = node.getMesh() ? category : node.getName() || category;
    for (const child of node.listChildren()) visit(child, row, nodePath, childCategory);
  };
  for (const node of scene?.listChildren() ?? []) visit(node, -1, '', 'Object');
  return model;
}

interface Pools {
  materials: Map<unknown, number>;
  geometries: Map<Primitive, number>;
}

function addMesh(model: BuildingModel, node: Node, element: number, pools: Pools): void {
  model.productsWithShape++;
  const matrix = multiply(Y_UP_TO_Z_UP, node.getWorldMatrix());
  let placed = 0;
  for (const primitive of node.getMesh()!.listPrimitives()) {
    let geometry = pools.geometries.get(primitive);
    if (geometry === undefined) {
      geometry = readPrimitive(model, primitive);
      pools.geometries.set(primitive, geometry);
    }
    if (geometry < 0) continue;
    placed++;
    model.placements.push({ element, geometry, material: materialIndex(model, primitive, pools), matrix });
  }
  if (placed === 0) {
    model.warnings.push({
      guid: model.elements.guid[element]!,
      name: model.elements.name[element]!,
      reason: 'its mesh has only lines or points, or data that do not fit together',
    });
  }
}

function readPrimitive(model: BuildingModel, primitive: Primitive): number {
  const source = primitive.getAttribute('POSITION');
  if (!source) return -1;
  const count = source.getCount();
  const positions = new Float32Array(count * 3);
  const point: number[] = [];
  for (let i = 0; i < count; i++) positions.set(source.getElement(i, point), i * 3);
  if (!positions.every(Number.isFinite)) return -1;
  const listed = primitive.getIndices()?.getArray();
  const order = listed ? Uint32Array.from(listed) : Uint32Array.from({ length: count }, (_, i) => i);
  const indices = triangulate(order, primitive.getMode());
  if (indices.length < 3 || indices.some((index) => index >= count)) return -1;
  return model.geometries.push({ positions, indices }) - 1;
}

/** Strips and fans become separate triangles; lines and points give none. */
function triangulate(order: Uint32Array, mode: number): Uint32Array {
  if (mode === Primitive.Mode.TRIANGLES) return order.slice(0, order.length - (order.length % 3));
  const out: number[] = [];
  for (let i = 0; i + 2 < order.length; i++) {
    if (mode === Primitive.Mode.TRIANGLE_STRIP) {
      const flip = i % 2;
      out.push(order[i]!, order[i + 1 + flip]!, order[i + 2 - flip]!);
    } else if (mode === Primitive.Mode.TRIANGLE_FAN) {
      out.push(order[0]!, order[i + 1]!, order[i + 2]!);
    }
  }
  return Uint32Array.from(out);
}

function materialIndex(model: BuildingModel, primitive: Primitive, pools: Pools): number {
  const material = primitive.getMaterial();
  let index = pools.materials.get(material);
  if (index === undefined) {
    const [r, g, b, a] = material?.getBaseColorFactor() ?? [0.8, 0.8, 0.8, 1];
    const opacity = material?.getAlphaMode() === 'BLEND' ? a! : 1;
    index =
      model.materials.push({ name: material?.getName() ?? '', color: [toSrgb(r!), toSrgb(g!), toSrgb(b!), opacity] }) -
      1;
    pools.materials.set(material, index);
  }
  return index;
}

/** Linear to sRGB transfer function, IEC 61966-2-1. */
function toSrgb(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055;
}

/** 22 characters, as long as an IFC GlobalId. */
function guidFromPath(path: string): string {
  return createHash('sha256').update(path).digest('base64url').slice(0, 22);
}

function extrasAsFacts(extras: Record<string, unknown>): PropertySets {
  const values: Record<string, string | number | boolean> = {};
  for (const [name, value] of Object.entries(extras)) {
    if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean') values[name] = value;
    else if (value !== null) values[name] = JSON.stringify(value);
  }
  return Object.keys(values).length > 0 ? { Extras: values } : {};
}
