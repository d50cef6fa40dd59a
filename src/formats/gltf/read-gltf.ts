import { open, readFile } from 'node:fs/promises';
import { NodeIO, Primitive, type Document, type JSONDocument, type Material, type Node } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import draco3d from 'draco3dgltf';
import { MeshoptDecoder } from 'meshoptimizer';
import type { BuildingModel, Geometry, PropertySets, SurfaceMaterial } from '../building-model';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { settleFrame } from '../model-frame';
import type { ReadOptions } from '../read-model';
import { findPart, type SourceFile } from '../source-file';

/**
 * Reads glTF 2.0 (.glb, or .gltf with its parts) into a building model. A node with a mesh becomes an element; a node
 * that only groups becomes an element without geometry; `extras` become facts. glTF is in metres with Y up.
 *
 * @throws ModelFileError if lengths do not fit, data are missing or the scene is empty
 */
export async function readGltf(source: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const { path, fileName } = source;
  await checkGlbLengths(path, fileName);
  const document = await parse(source);
  options.onProgress?.(0.4);
  const { model } = takeOver(document, fileName);
  if (model.placements.length === 0) {
    throw new ModelFileError('nothing-inside', `“${fileName}” is valid glTF but its scene shows no triangles.`);
  }
  settleFrame(model, { metresPerUnit: 1, up: 'Y' }, 'Y', options.frame ?? {});
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

async function parse(source: SourceFile): Promise<Document> {
  const { path, fileName } = source;
  const io = new NodeIO().registerExtensions(ALL_EXTENSIONS).registerDependencies({
    'meshopt.decoder': MeshoptDecoder,
    'draco3d.decoder': await draco3d.createDecoderModule(),
  });
  try {
    const bytes = await readFile(path);
    const isBinary = bytes.toString('latin1', 0, 4) === 'glTF';
    const text = () => JSON.parse(bytes.toString('utf8').replace(/^\uFEFF/, '')) as JSONDocument['json'];
    const document: JSONDocument = isBinary
      ? await io.binaryToJSON(new Uint8Array(bytes))
      : { json: text(), resources: {} };
    await addParts(document, source);
    return await io.readJSON(document);
  } catch (cause) {
    if (cause instanceof ModelFileError) throw cause;
    const detail = cause instanceof Error ? cause.message : String(cause);
    throw new ModelFileError('damaged', `“${fileName}” could not be read as glTF: ${detail}`, { cause });
  }
}

/** Loads the buffers and pictures that lie beside the file. Only what came along is read, whatever an address says. */
async function addParts({ json, resources }: JSONDocument, source: SourceFile): Promise<void> {
  for (const { uri } of [...(json.buffers ?? []), ...(json.images ?? [])]) {
    if (uri === undefined || uri in resources) continue;
    if (uri.startsWith('data:')) {
      resources[uri] = Buffer.from(uri.slice(uri.indexOf(',') + 1), uri.includes(';base64,') ? 'base64' : 'utf8');
      continue;
    }
    const part = findPart(source, uri);
    if (!part)
      throw new ModelFileError(
        'damaged',
        `“${source.fileName}” refers to another file, “${uri.slice(0, 120)}”, that did not come with it. Choose all files together, or export one .glb file.`,
      );
    resources[uri] = new Uint8Array(await readFile(part));
  }
}

function takeOver(document: Document, fileName: string): ModelBuilder {
  const root = document.getRoot();
  const { version, generator } = root.getAsset();
  const builder = new ModelBuilder({ format: 'glTF', schema: version, fileName, program: generator ?? '' });
  const geometries = new Map<Primitive, number | null>();
  const visit = (node: Node, parent: number, category: string): void => {
    const mesh = node.getMesh();
    const row = builder.element({
      name: node.getName() || mesh?.getName() || 'Object',
      category: mesh ? category : 'Group',
      parent,
      material: [...new Set(mesh?.listPrimitives().map((part) => part.getMaterial()?.getName() ?? ''))]
        .filter(Boolean)
        .join(', '),
      facts: extrasAsFacts(node.getExtras()),
    });
    if (mesh) addMesh(builder, node, row, geometries);
    const inner = mesh ? category : node.getName() || category;
    for (const child of node.listChildren()) visit(child, row, inner);
  };
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  for (const node of scene?.listChildren() ?? []) visit(node, -1, 'Object');
  return builder;
}

function addMesh(builder: ModelBuilder, node: Node, row: number, geometries: Map<Primitive, number | null>): void {
  builder.model.productsWithShape++;
  let placed = 0;
  for (const primitive of node.getMesh()!.listPrimitives()) {
    let geometry = geometries.get(primitive);
    if (geometry === undefined) {
      const read = readPrimitive(primitive);
      geometry = read && builder.geometry(read);
      geometries.set(primitive, geometry);
    }
    if (geometry === null) continue;
    placed++;
    builder.place(row, geometry, builder.material(surface(primitive.getMaterial())), node.getWorldMatrix());
  }
  if (placed === 0) builder.warn(row, 'its mesh has only lines or points, or data that do not fit together');
}

/** Triangles of a primitive, with its vertex colours; null if nothing usable is there. */
function readPrimitive(primitive: Primitive): Geometry | null {
  const source = primitive.getAttribute('POSITION');
  if (!source) return null;
  const count = source.getCount();
  const positions = new Float32Array(count * 3);
  const point: number[] = [];
  for (let i = 0; i < count; i++) positions.set(source.getElement(i, point), i * 3);
  if (!positions.every(Number.isFinite)) return null;
  const listed = primitive.getIndices()?.getArray();
  const order = listed ? Uint32Array.from(listed) : Uint32Array.from({ length: count }, (_, i) => i);
  const indices = triangulate(order, primitive.getMode());
  if (indices.length < 3 || indices.some((index) => index >= count)) return null;
  const colors = vertexColors(primitive, count);
  return { positions, indices, ...(colors && { colors }) };
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

/** COLOR_0 times the material's colour, as sRGB bytes; null where vertices are not painted. */
function vertexColors(primitive: Primitive, count: number): Uint8Array | null {
  const source = primitive.getAttribute('COLOR_0');
  if (!source || source.getCount() !== count) return null;
  const base = primitive.getMaterial()?.getBaseColorFactor() ?? [1, 1, 1, 1];
  const opaque = primitive.getMaterial()?.getAlphaMode() !== 'BLEND';
  const colors = new Uint8Array(count * 4);
  const one: number[] = [];
  for (let i = 0; i < count; i++) {
    source.getElement(i, one);
    for (let channel = 0; channel < 4; channel++) {
      const value = (one[channel] ?? 1) * base[channel]!;
      const shown = channel < 3 ? toSrgb(value) : opaque ? 1 : value;
      colors[i * 4 + channel] = Math.round(Math.min(1, Math.max(0, shown)) * 255);
    }
  }
  return colors;
}

function surface(material: Material | null): SurfaceMaterial {
  const [r, g, b, a] = material?.getBaseColorFactor() ?? [0.8, 0.8, 0.8, 1];
  const opacity = material?.getAlphaMode() === 'BLEND' ? a! : 1;
  return { name: material?.getName() ?? '', color: [toSrgb(r!), toSrgb(g!), toSrgb(b!), opacity] };
}

/** Linear to sRGB transfer function, IEC 61966-2-1. */
function toSrgb(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055;
}

function extrasAsFacts(extras: Record<string, unknown>): PropertySets {
  const values: Record<string, string | number | boolean> = {};
  for (const [name, value] of Object.entries(extras)) {
    if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean') values[name] = value;
    else if (value !== null) values[name] = JSON.stringify(value);
  }
  return Object.keys(values).length > 0 ? { Extras: values } : {};
}
