import {
  Extension,
  ExtensionProperty,
  PropertyType,
  type IProperty,
  type Nullable,
  type ReaderContext,
  type WriterContext,
} from '@gltf-transform/core';

/** The OGC extensions that number elements, each with one set of ids in the attribute `_FEATURE_ID_0`. */
const MESH = 'EXT_mesh_features';
const INSTANCE = 'EXT_instance_features';

interface IFeatureIds extends IProperty {
  featureCount: number;
}

abstract class FeatureIds extends ExtensionProperty<IFeatureIds> {
  protected override getDefaults(): Nullable<IFeatureIds> {
    return Object.assign(super.getDefaults() as IProperty, { featureCount: 0 });
  }

  setFeatureCount(count: number): this {
    return this.set('featureCount', count);
  }

  /** As the extension stands in the file. */
  toJson(): object {
    return { featureIds: [{ featureCount: this.get('featureCount'), attribute: 0 }] };
  }
}

/** Says that the attribute numbers the elements of a primitive, vertex by vertex. */
export class MeshFeatures extends FeatureIds {
  static override EXTENSION_NAME = MESH;
  declare extensionName: typeof MESH;
  declare propertyType: 'MeshFeatures';
  declare parentTypes: [PropertyType.PRIMITIVE];

  protected override init(): void {
    this.extensionName = MESH;
    this.propertyType = 'MeshFeatures';
    this.parentTypes = [PropertyType.PRIMITIVE];
  }
}

/** Says that the attribute numbers the elements of a node's instances. */
export class InstanceFeatures extends FeatureIds {
  static override EXTENSION_NAME = INSTANCE;
  declare extensionName: typeof INSTANCE;
  declare propertyType: 'InstanceFeatures';
  declare parentTypes: [PropertyType.NODE];

  protected override init(): void {
    this.extensionName = INSTANCE;
    this.propertyType = 'InstanceFeatures';
    this.parentTypes = [PropertyType.NODE];
  }
}

/** Writer for EXT_mesh_features. */
export class MeshFeaturesExtension extends Extension {
  static override readonly EXTENSION_NAME = MESH;
  override readonly extensionName = MESH;

  createMeshFeatures(): MeshFeatures {
    return new MeshFeatures(this.document.getGraph());
  }

  override read(_context: ReaderContext): this {
    return this;
  }

  override write(context: WriterContext): this {
    for (const mesh of this.document.getRoot().listMeshes()) {
      const definition = context.jsonDoc.json.meshes?.[context.meshIndexMap.get(mesh)!];
      mesh
        .listPrimitives()
        .forEach((primitive, i) => put(definition?.primitives[i], MESH, primitive.getExtension<MeshFeatures>(MESH)));
    }
    return this;
  }
}

/** Writer for EXT_instance_features. */
export class InstanceFeaturesExtension extends Extension {
  static override readonly EXTENSION_NAME = INSTANCE;
  override readonly extensionName = INSTANCE;

  createInstanceFeatures(): InstanceFeatures {
    return new InstanceFeatures(this.document.getGraph());
  }

  override read(_context: ReaderContext): this {
    return this;
  }

  override write(context: WriterContext): this {
    for (const node of this.document.getRoot().listNodes())
      put(
        context.jsonDoc.json.nodes?.[context.nodeIndexMap.get(node)!],
        INSTANCE,
        node.getExtension<InstanceFeatures>(INSTANCE),
      );
    return this;
  }
}

function put(target: { extensions?: object } | undefined, name: string, features: FeatureIds | null): void {
  if (features && target) target.extensions = { ...target.extensions, [name]: features.toJson() };
}
