import {
  Extension,
  ExtensionProperty,
  PropertyType,
  type IProperty,
  type Nullable,
  type ReaderContext,
  type WriterContext,
} from '@gltf-transform/core';

const NAME = 'EXT_mesh_features';

interface IFeatureIds extends IProperty {
  featureCount: number;
}

/** Says that the attribute `_FEATURE_ID_0` numbers the elements of a primitive. */
export class MeshFeatures extends ExtensionProperty<IFeatureIds> {
  static override EXTENSION_NAME = NAME;
  declare extensionName: typeof NAME;
  declare propertyType: 'MeshFeatures';
  declare parentTypes: [PropertyType.PRIMITIVE];

  protected override init(): void {
    this.extensionName = NAME;
    this.propertyType = 'MeshFeatures';
    this.parentTypes = [PropertyType.PRIMITIVE];
  }

  protected override getDefaults(): Nullable<IFeatureIds> {
    return Object.assign(super.getDefaults() as IProperty, { featureCount: 0 });
  }

  getFeatureCount(): number {
    return this.get('featureCount');
  }

  setFeatureCount(count: number): this {
    return this.set('featureCount', count);
  }
}

/** Writer for the OGC extension EXT_mesh_features with one set of feature ids, in `_FEATURE_ID_0`. */
export class MeshFeaturesExtension extends Extension {
  static override readonly EXTENSION_NAME = NAME;
  override readonly extensionName = NAME;

  createMeshFeatures(): MeshFeatures {
    return new MeshFeatures(this.document.getGraph());
  }

  override read(_context: ReaderContext): this {
    return this;
  }

  override write(context: WriterContext): this {
    const { jsonDoc } = context;
    for (const mesh of this.document.getRoot().listMeshes()) {
      const definition = jsonDoc.json.meshes?.[context.meshIndexMap.get(mesh)!];
      mesh.listPrimitives().forEach((primitive, i) => {
        const features = primitive.getExtension<MeshFeatures>(NAME);
        const target = definition?.primitives[i];
        if (features && target) {
          target.extensions = {
            ...target.extensions,
            [NAME]: { featureIds: [{ featureCount: features.getFeatureCount(), attribute: 0 }] },
          };
        }
      });
    }
    return this;
  }
}
