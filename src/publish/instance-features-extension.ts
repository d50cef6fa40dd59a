import {
  Extension,
  ExtensionProperty,
  PropertyType,
  type IProperty,
  type Nullable,
  type ReaderContext,
  type WriterContext,
} from '@gltf-transform/core';

const NAME = 'EXT_instance_features';

interface IFeatureIds extends IProperty {
  featureCount: number;
}

/** Says that the instance attribute `_FEATURE_ID_0` numbers the elements of a node's instances. */
export class InstanceFeatures extends ExtensionProperty<IFeatureIds> {
  static override EXTENSION_NAME = NAME;
  declare extensionName: typeof NAME;
  declare propertyType: 'InstanceFeatures';
  declare parentTypes: [PropertyType.NODE];

  protected override init(): void {
    this.extensionName = NAME;
    this.propertyType = 'InstanceFeatures';
    this.parentTypes = [PropertyType.NODE];
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

/** Writer for the OGC extension EXT_instance_features with one set of feature ids, in `_FEATURE_ID_0`. */
export class InstanceFeaturesExtension extends Extension {
  static override readonly EXTENSION_NAME = NAME;
  override readonly extensionName = NAME;

  createInstanceFeatures(): InstanceFeatures {
    return new InstanceFeatures(this.document.getGraph());
  }

  override read(_context: ReaderContext): this {
    return this;
  }

  override write(context: WriterContext): this {
    const { jsonDoc } = context;
    for (const node of this.document.getRoot().listNodes()) {
      const features = node.getExtension<InstanceFeatures>(NAME);
      const target = jsonDoc.json.nodes?.[context.nodeIndexMap.get(node)!];
      if (features && target) {
        target.extensions = {
          ...target.extensions,
          [NAME]: { featureIds: [{ featureCount: features.getFeatureCount(), attribute: 0 }] },
        };
      }
    }
    return this;
  }
}
