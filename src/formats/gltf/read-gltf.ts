import type { Document, Mesh, Node, Primitive } from '@gltf-transform/core';
import type { InstancedMesh } from '@gltf-transform/extensions';
import { compose, multiply, transformPoint } from '@/core/math/mat4';
import type { BuildingModel, PropertySets } from '../building-model';
import { groupCategory } from '../group-category';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { agreeFrame } from '../model-frame';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { unreadExtensions } from '../unread-extensions';
import type { FeatureIds, Features } from './features';
import { damaged, openGltf } from './open-gltf';
import { primitiveGeometry } from './primitive-geometry';
import type { FeatureRow } from './property-tables';
import { splitByFeature } from './split-by-feature';
import { surfaceMaterial } from './surface-material';

/**
 * Reads glTF 2.0 (.glb, or .gltf with its parts) into a building model. A node with a mesh becomes an element; a node
 * that only groups becomes an element without geometry; each instance of an instanced mesh is an element, and so is each
 * feature that is told apart within a mesh; `extras` and property tables become facts; base colours with their pictures
 * and cameras come along. glTF is in metres with Y up.
 *
 * @throws ModelFileError if lengths do not fit, data are missing or the scene is empty
 */
export async function readGltf(source: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const { fileName } = source;
  const { document, features, passedOver } = await openGltf(source);
  options.onProgress?.(0.4);
  const model = takeOver(document, features, fileName);
  if (model.placements.length === 0) throw nothingShown(model, fileName, passedOver);
  model.warnings.push(...unreadExtensions(passedOver), ...[...features.unread].map((reason) => ({ reason })));
  agreeFrame(model, { metresPerUnit: 1, up: 'Y' }, 'Y', options.frame ?? {});
  options.onProgress?.(1);
  return model;
}

/** The library hands on whatever stands in the file, so that numbers may be where lists should, and lists too long. */
function takeOver(document: Document, features: Features, fileName: string): BuildingModel {
  try {
    return new Takeover(document, features, fileName).builder.model;
  } catch (error) {
    if (error instanceof TypeError || error instanceof RangeError) throw damaged(fileName, error);
    throw error;
  }
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

/** What was read of a primitive. */
interface Read {
  /** Numbers of its geometries, each with the feature that it belongs to; empty if no triangle can be shown. */
  parts: { feature: number | null; geometry: number }[];
  ids: FeatureIds | null;
  /** Triangles that cannot be shown. */
  bad: number;
}

/** Makes elements of what a document holds. */
class Takeover {
  readonly builder: ModelBuilder;
  private readonly read = new Map<Primitive, Read>();
  private readonly meshNumbers: Map<Mesh, number>;
  private readonly nodeNumbers: Map<Node, number>;
  /** Identities that were given already. */
  private readonly given = new Set<string>();

  constructor(
    document: Document,
    private readonly features: Features,
    fileName: string,
  ) {
    const root = document.getRoot();
    const { version, generator } = root.getAsset();
    this.builder = new ModelBuilder({ format: 'glTF', schema: version, fileName, program: generator ?? '' });
    // The library keeps them in the order of the file.
    this.meshNumbers = new Map(root.listMeshes().map((mesh, i) => [mesh, i]));
    this.nodeNumbers = new Map(root.listNodes().map((node, i) => [node, i]));
    const scene = root.getDefaultScene() ?? root.listScenes()[0];
    for (const node of scene?.listChildren() ?? []) this.visit(node, -1, 'Object');
  }

  private visit(node: Node, parent: number, category: string): void {
    const mesh = node.getMesh();
    const row = this.builder.element({
      name: node.getName() || mesh?.getName() || 'Object',
      category: mesh ? category : 'Group',
      parent,
      material: [...new Set(mesh?.listPrimitives().map((part) => part.getMaterial()?.getName() ?? ''))]
        .filter(Boolean)
        .join(', '),
      facts: extrasAsFacts(node.getExtras()),
    });
    if (mesh) this.placeNode(node, mesh, row);
    addCamera(this.builder, node);
    const inner = mesh ? category : groupCategory(node.getName(), category);
    for (const child of node.listChildren()) this.visit(child, row, inner);
  }

  /** An instanced mesh (EXT_mesh_gpu_instancing) is as many elements as it has instances. */
  private placeNode(node: Node, mesh: Mesh, row: number): void {
    const world = node.getWorldMatrix();
    const instances = node.getExtension<InstancedMesh>('EXT_mesh_gpu_instancing');
    if (!instances) return this.addMesh(mesh, row, world);
    const ids = this.features.ofInstances(this.nodeNumbers.get(node)!);
    const numbers = ids?.attribute ? instances.getAttribute(ids.attribute) : null;
    const rows = new Map<number, number>();
    for (const [i, matrix] of instanceMatrices(instances).entries()) {
      const feature = numbers ? numbers.getScalar(i) : i;
      const own =
        rows.get(feature) ?? this.part(row, String(numbers ? feature : i + 1), ids?.row(feature) ?? null, ids);
      rows.set(feature, own);
      this.addMesh(mesh, own, multiply(world, matrix));
    }
  }

  /** An element that is part of another one. @param otherwise what tells it from the others, where it has no name */
  private part(whole: number, otherwise: string, found: FeatureRow | null, ids: FeatureIds | null): number {
    const { name, category, material } = this.builder.model.elements;
    // Of two with one identity, the second gets one from its place.
    const guid = found?.id && !this.given.has(found.id) ? found.id : undefined;
    if (guid) this.given.add(guid);
    const hasFacts = found !== null && Object.keys(found.facts).length > 0;
    return this.builder.element({
      name: found?.name || `${name[whole]} ${otherwise}`,
      category: ids?.kind || category[whole]!,
      guid,
      parent: whole,
      material: material[whole],
      facts: hasFacts ? { [ids!.facts]: found.facts } : {},
    });
  }

  private addMesh(mesh: Mesh, row: number, matrix: ArrayLike<number>): void {
    const { builder } = this;
    const shown = new Set<number>();
    const rows = new Map<string, number>();
    let bad = 0;
    for (const [i, primitive] of mesh.listPrimitives().entries()) {
      const read = this.primitive(primitive, this.meshNumbers.get(mesh)!, i);
      bad += read.bad;
      for (const { feature, geometry } of read.parts) {
        const key = `${read.ids?.facts}/${feature}`;
        let own = feature === null ? row : rows.get(key);
        if (own === undefined) {
          own = this.part(row, String(feature), read.ids!.row(feature!), read.ids);
          rows.set(key, own);
        }
        shown.add(own);
        builder.place(own, geometry, builder.material(surfaceMaterial(builder, primitive.getMaterial())), matrix);
      }
    }
    builder.model.productsWithShape += Math.max(1, shown.size);
    if (bad > 0)
      builder.warn(
        row,
        `${bad === 1 ? 'a triangle names corners' : `${bad} triangles name corners`} that are not there, or places that are no numbers, and cannot be shown`,
      );
    else if (shown.size === 0) builder.warn(row, 'its mesh has only lines or points');
  }

  /** Reads a primitive once, however often it is placed. */
  private primitive(primitive: Primitive, mesh: number, number: number): Read {
    const known = this.read.get(primitive);
    if (known) return known;
    const { geometry, bad } = primitiveGeometry(primitive);
    const ids = this.features.ofPrimitive(mesh, number);
    const numbers = ids?.attribute ? primitive.getAttribute(ids.attribute) : null;
    const featureOf = (vertex: number) => {
      const feature = numbers!.getScalar(vertex);
      return feature === ids!.none ? null : feature;
    };
    const isNumbered = geometry !== null && numbers?.getCount() === geometry.positions.length / 3;
    const parts = isNumbered ? splitByFeature(geometry, featureOf) : geometry ? [{ feature: null, geometry }] : [];
    const read = {
      parts: parts.map(({ feature, geometry }) => ({ feature, geometry: this.builder.geometry(geometry) })),
      ids,
      bad,
    };
    this.read.set(primitive, read);
    return read;
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

function extrasAsFacts(extras: Record<string, unknown>): PropertySets {
  const values: Record<string, string | number | boolean> = {};
  for (const [name, value] of Object.entries(extras)) {
    if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean') values[name] = value;
    else if (value !== null) values[name] = JSON.stringify(value);
  }
  return Object.keys(values).length > 0 ? { Extras: values } : {};
}
