import { open, readFile } from 'node:fs/promises';
import {
  NodeIO,
  Primitive,
  type Document,
  type JSONDocument,
  type Material,
  type Node,
  type Texture,
  type TextureInfo,
} from '@gltf-transform/core';
import {
  ALL_EXTENSIONS,
  type InstancedMesh,
  type PBRSpecularGlossiness,
  type Transform,
} from '@gltf-transform/extensions';
import draco3d from 'draco3dgltf';
import { MeshoptDecoder } from 'meshoptimizer';
import { compose, multiply, transformPoint } from '@/core/math/mat4';
import type { BuildingModel, Geometry, PropertySets, SurfaceMaterial } from '../building-model';
import { groupCategory } from '../group-category';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { settleFrame } from '../model-frame';
import type { ReadOptions } from '../read-model';
import { findPart, type SourceFile } from '../source-file';
import { decodeText } from '../text/text-file';

/**
 * Reads glTF 2.0 (.glb, or .gltf with its parts) into a building model. A node with a mesh becomes an element; a node
 * that only groups becomes an element without geometry; each instance of an instanced mesh is an element; `extras`
 * become facts; base colours with their pictures and cameras come along. glTF is in metres with Y up.
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
    if (version !== 2) throw otherVersion(fileName, String(version));
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

function otherVersion(fileName: string, version: string): ModelFileError {
  return new ModelFileError(
    'unsupported',
    `“${fileName}” is glTF version ${version}; Yurta reads version 2.0. Export it again as glTF 2.0 or GLB.`,
  );
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
    const text = () => JSON.parse(decodeText(bytes)) as JSONDocument['json'];
    const document: JSONDocument = isBinary
      ? await io.binaryToJSON(new Uint8Array(bytes))
      : { json: text(), resources: {} };
    const version = String(document.json.asset?.version ?? '1');
    if (!/^2(\.|$)/.test(version)) throw otherVersion(fileName, version);
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
    if (mesh) placeNode(builder, node, row, geometries);
    addCamera(builder, node);
    const inner = mesh ? category : groupCategory(node.getName(), category);
    for (const child of node.listChildren()) visit(child, row, inner);
  };
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  for (const node of scene?.listChildren() ?? []) visit(node, -1, 'Object');
  return builder;
}

/** An instanced mesh (EXT_mesh_gpu_instancing) is as many elements as it has instances. */
function placeNode(builder: ModelBuilder, node: Node, row: number, geometries: Map<Primitive, number | null>): void {
  const world = node.getWorldMatrix();
  const instances = node.getExtension<InstancedMesh>('EXT_mesh_gpu_instancing');
  if (!instances) return addMesh(builder, node, row, world, geometries);
  const { name, material } = builder.model.elements;
  for (const [i, matrix] of instanceMatrices(instances).entries()) {
    const own = builder.element({
      name: `${name[row]} ${i + 1}`,
      category: builder.model.elements.category[row]!,
      parent: row,
      material: material[row],
    });
    addMesh(builder, node, own, multiply(world, matrix), geometries);
  }
}

function instanceMatrices(instances: InstancedMesh): ArrayLike<number>[] {
  const [translation, rotation, scale] = ['TRANSLATION', 'ROTATION', 'SCALE'].map((semantic) =>
    instances.getAttribute(semantic),
  );
  const count = Math.max(...[translation, rotation, scale].map((attribute) => attribute?.getCount() ?? 0));
  return Array.from({ length: count }, (_, i) =>
    compose(
      translation?.getElement(i, []) ?? [0, 0, 0],
      rotation?.getElement(i, []) ?? [0, 0, 0, 1],
      scale?.getElement(i, []) ?? [1, 1, 1],
    ),
  );
}

function addMesh(
  builder: ModelBuilder,
  node: Node,
  row: number,
  matrix: ArrayLike<number>,
  geometries: Map<Primitive, number | null>,
): void {
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
    builder.place(row, geometry, builder.material(surface(builder, primitive.getMaterial())), matrix);
  }
  if (placed === 0) builder.warn(row, 'its mesh has only lines or points, or data that do not fit together');
}

/** A glTF camera looks along its own -Z. */
function addCamera(builder: ModelBuilder, node: Node): void {
  const camera = node.getCamera();
  if (!camera) return;
  const world = node.getWorldMatrix();
  const fov = camera.getType() === 'perspective' ? (camera.getYFov() * 180) / Math.PI : 45;
  builder.model.cameras.push({
    name: camera.getName() || node.getName() || `Camera ${builder.model.cameras.length + 1}`,
    position: transformPoint(world, 0, 0, 0),
    target: transformPoint(world, 0, 0, -1),
    fov: Math.min(120, Math.max(10, fov)),
  });
}

/** Triangles of a primitive with its vertex colours, normals and places in the picture; null if nothing usable is there. */
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
  const normals = vertexNormals(primitive, count);
  const uvs = pictureUvs(primitive, count);
  return { positions, indices, ...(colors && { colors }), ...(normals && { normals }), ...(uvs && { uvs }) };
}

function vertexNormals(primitive: Primitive, count: number): Float32Array | null {
  const source = primitive.getAttribute('NORMAL');
  if (!source || source.getCount() !== count) return null;
  const normals = new Float32Array(count * 3);
  const one: number[] = [];
  for (let i = 0; i < count; i++) normals.set(source.getElement(i, one), i * 3);
  return normals.every(Number.isFinite) ? normals : null;
}

/** Places in the base colour's picture, with KHR_texture_transform applied; null where there is no picture. */
function pictureUvs(primitive: Primitive, count: number): Float32Array | null {
  const { info, texture } = basePicture(primitive.getMaterial());
  if (!texture) return null;
  const transform = info?.getExtension<Transform>('KHR_texture_transform') ?? null;
  const source = primitive.getAttribute(`TEXCOORD_${transform?.getTexCoord() ?? info?.getTexCoord() ?? 0}`);
  if (!source || source.getCount() !== count) return null;
  const [ox, oy] = transform?.getOffset() ?? [0, 0];
  const [sx, sy] = transform?.getScale() ?? [1, 1];
  const [cos, sin] = [Math.cos(transform?.getRotation() ?? 0), Math.sin(transform?.getRotation() ?? 0)];
  const uvs = new Float32Array(count * 2);
  const one: number[] = [];
  for (let i = 0; i < count; i++) {
    const [u, v] = source.getElement(i, one) as [number, number];
    uvs[i * 2] = cos * sx * u + sin * sy * v + ox;
    uvs[i * 2 + 1] = -sin * sx * u + cos * sy * v + oy;
  }
  return uvs.every(Number.isFinite) ? uvs : null;
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
  const base = primitive.getMaterial() ? basePicture(primitive.getMaterial()).factor : [1, 1, 1, 1];
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

/** The picture and factor of a material's own colour, also where it is told in the older specular-glossiness way. */
function basePicture(material: Material | null): {
  factor: number[];
  texture: Texture | null;
  info: TextureInfo | null;
} {
  const older = material?.getExtension<PBRSpecularGlossiness>('KHR_materials_pbrSpecularGlossiness');
  if (older)
    return {
      factor: older.getDiffuseFactor(),
      texture: older.getDiffuseTexture(),
      info: older.getDiffuseTextureInfo(),
    };
  return {
    factor: material?.getBaseColorFactor() ?? [0.8, 0.8, 0.8, 1],
    texture: material?.getBaseColorTexture() ?? null,
    info: material?.getBaseColorTextureInfo() ?? null,
  };
}

function surface(builder: ModelBuilder, material: Material | null): SurfaceMaterial {
  const { factor, texture } = basePicture(material);
  const [r, g, b, a] = factor;
  const mode = material?.getAlphaMode();
  const bytes = texture?.getImage();
  return {
    name: material?.getName() ?? '',
    color: [toSrgb(r!), toSrgb(g!), toSrgb(b!), mode === 'BLEND' ? a! : 1],
    ...(bytes && { texture: builder.texture(texture!.getName() || texture!.getURI(), bytes) }),
    // A picture that may let light through on a solid colour is mostly leaves, nets or lettering.
    ...((mode === 'MASK' || (mode === 'BLEND' && bytes && a! > 0.999)) && { cutOut: true }),
  };
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
