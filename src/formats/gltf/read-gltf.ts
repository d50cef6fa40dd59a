import type { Document, Node, Primitive } from '@gltf-transform/core';
import type { InstancedMesh } from '@gltf-transform/extensions';
import { compose, multiply, transformPoint } from '@/core/math/mat4';
import type { BuildingModel, PropertySets } from '../building-model';
import { groupCategory } from '../group-category';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { settleFrame } from '../model-frame';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { unreadExtensions } from '../unread-extensions';
import { openGltf } from './open-gltf';
import { primitiveGeometry } from './primitive-geometry';
import { surfaceMaterial } from './surface-material';

/**
 * Reads glTF 2.0 (.glb, or .gltf with its parts) into a building model. A node with a mesh becomes an element; a node
 * that only groups becomes an element without geometry; each instance of an instanced mesh is an element; `extras`
 * become facts; base colours with their pictures and cameras come along. glTF is in metres with Y up.
 *
 * @throws ModelFileError if lengths do not fit, data are missing or the scene is empty
 */
export async function readGltf(source: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const { fileName } = source;
  const { document, passedOver } = await openGltf(source);
  options.onProgress?.(0.4);
  const { model } = takeOver(document, fileName);
  if (model.placements.length === 0) throw nothingShown(model, fileName, passedOver);
  model.warnings.push(...unreadExtensions(passedOver));
  settleFrame(model, { metresPerUnit: 1, up: 'Y' }, 'Y', options.frame ?? {});
  options.onProgress?.(1);
  return model;
}

function nothingShown(model: BuildingModel, fileName: string, passedOver: string[]): ModelFileError {
  if (passedOver.length > 0)
    return new ModelFileError(
      'unsupported',
      `“${fileName}” cannot be shown without the glTF extension ${passedOver.join(', ')}, which Yurta does not read. Export it without.`,
    );
  const why =
    model.productsWithShape === 0
      ? 'its scene holds no surfaces'
      : 'all that it holds are lines or points, or surfaces whose numbers make no sense';
  return new ModelFileError('nothing-inside', `“${fileName}” is glTF, but ${why}. Check what is exported.`);
}

function takeOver(document: Document, fileName: string): ModelBuilder {
  const root = document.getRoot();
  const { version, generator } = root.getAsset();
  const builder = new ModelBuilder({ format: 'glTF', schema: version, fileName, program: generator ?? '' });
  const geometries = new Map<Primitive, Read>();
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
function placeNode(builder: ModelBuilder, node: Node, row: number, geometries: Map<Primitive, Read>): void {
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
  geometries: Map<Primitive, Read>,
): void {
  builder.model.productsWithShape++;
  let placed = 0;
  let bad = 0;
  for (const primitive of node.getMesh()!.listPrimitives()) {
    let read = geometries.get(primitive);
    if (read === undefined) {
      const { geometry, bad } = primitiveGeometry(primitive);
      read = { geometry: geometry && builder.geometry(geometry), bad };
      geometries.set(primitive, read);
    }
    bad += read.bad;
    if (read.geometry === null) continue;
    placed++;
    builder.place(row, read.geometry, builder.material(surfaceMaterial(builder, primitive.getMaterial())), matrix);
  }
  if (bad > 0)
    builder.warn(
      row,
      `${bad === 1 ? 'a triangle names corners' : `${bad} triangles name corners`} that are not there, or places that are no numbers, and cannot be shown`,
    );
  else if (placed === 0) builder.warn(row, 'its mesh has only lines or points');
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

/** What was read of a primitive: the number of its geometry, null if no triangle can be shown, and how many cannot. */
interface Read {
  geometry: number | null;
  bad: number;
}

function extrasAsFacts(extras: Record<string, unknown>): PropertySets {
  const values: Record<string, string | number | boolean> = {};
  for (const [name, value] of Object.entries(extras)) {
    if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean') values[name] = value;
    else if (value !== null) values[name] = JSON.stringify(value);
  }
  return Object.keys(values).length > 0 ? { Extras: values } : {};
}
