import { GLB_BUFFER, type JSONDocument } from '@gltf-transform/core';
import { PropertyTable, type FeatureRow, type MetadataSchema, type StructuralMetadata } from './property-tables';

type Json = JSONDocument['json'];

/** A set of numbers that tell features apart: vertex by vertex of a primitive, or instance by instance of a node. */
interface FeatureIdSet {
  /** Of the attribute `_FEATURE_ID_n` that holds the numbers. */
  attribute?: number;
  /** A picture that holds them, which is not read. */
  texture?: object;
  /** Stands for what is no feature. */
  nullFeatureId?: number;
  propertyTable?: number;
}

/** Numbers of features, and where their facts stand. */
export interface FeatureIds {
  /** Name of the attribute; null where every vertex or instance is a feature of its own. */
  attribute: string | null;
  /** Of what is no feature. */
  none: number | null;
  /** What is told of a feature; null where nothing is. */
  row: (feature: number) => FeatureRow | null;
  /** What the features are; empty where it is not said. */
  kind: string;
  /** What their facts are called together. */
  facts: string;
}

/**
 * Things that a glTF file tells apart within one mesh (EXT_mesh_features) or among instances (EXT_instance_features), with
 * their facts (EXT_structural_metadata).
 */
export class Features {
  /** Sentences on what could not be read. */
  readonly unread = new Set<string>();
  private readonly tables = new Map<number, PropertyTable | null>();
  private readonly metadata: StructuralMetadata;
  private schema: MetadataSchema;

  /** @param schemaText of the schema's own file, where it has one that came along */
  constructor(
    private readonly json: Json,
    private readonly resources: JSONDocument['resources'],
    schemaText?: string,
  ) {
    this.metadata = (json.extensions?.['EXT_structural_metadata'] ?? {}) as StructuralMetadata;
    this.schema = this.metadata.schema ?? {};
    if (schemaText === undefined) return;
    try {
      this.schema = JSON.parse(schemaText) as MetadataSchema;
    } catch {
      this.unread.add('the schema of its facts is no whole JSON, so that they are left out');
    }
  }

  /** Name of the schema's own file, where a file of glTF text has one. */
  static schemaUri(json: Json): string | undefined {
    return (json.extensions?.['EXT_structural_metadata'] as StructuralMetadata | undefined)?.schemaUri;
  }

  /** @param mesh, primitive by their numbers in the file */
  ofPrimitive(mesh: number, primitive: number): FeatureIds | null {
    return this.attempt(() =>
      this.idsOf(this.json.meshes?.[mesh]?.primitives[primitive]?.extensions?.['EXT_mesh_features']),
    );
  }

  /** @param node by its number in the file */
  ofInstances(node: number): FeatureIds | null {
    return this.attempt(() => this.idsOf(this.json.nodes?.[node]?.extensions?.['EXT_instance_features']));
  }

  private idsOf(extension: unknown): FeatureIds | null {
    const sets = (extension as { featureIds?: FeatureIdSet[] } | undefined)?.featureIds;
    if (!Array.isArray(sets)) return null;
    const readable = sets.filter((set) => !set.texture);
    if (readable.length < sets.length)
      this.unread.add('some of its features are told apart by a picture, which Yurta does not read');
    // Of several, the one that says something of its features.
    const set = readable.find(({ propertyTable }) => propertyTable !== undefined) ?? readable[0];
    if (!set) return null;
    const table = set.propertyTable === undefined ? null : this.table(set.propertyTable);
    return {
      attribute: set.attribute === undefined ? null : `_FEATURE_ID_${set.attribute}`,
      none: set.nullFeatureId ?? null,
      row: (feature) => table && this.attempt(() => table.row(feature)),
      kind: table?.kind ?? '',
      facts: table?.name ?? '',
    };
  }

  private table(number: number): PropertyTable | null {
    let table = this.tables.get(number);
    if (table === undefined) {
      const given = this.metadata.propertyTables?.[number];
      table = this.attempt(() => {
        if (!given) throw new SyntaxError('no such table');
        return new PropertyTable(given, this.schema, (view) => this.bytesOf(view));
      });
      this.tables.set(number, table);
    }
    return table;
  }

  private attempt<T>(read: () => T): T | null {
    try {
      return read();
    } catch (error) {
      // Whatever in the JSON is not of the type that it should be shows as a TypeError.
      if (!(error instanceof SyntaxError || error instanceof TypeError || error instanceof RangeError)) throw error;
      this.unread.add(
        'some features or their facts do not lie where the file says, or make no sense, and are left out',
      );
      return null;
    }
  }

  private bytesOf(view: number): Uint8Array {
    const { buffer, byteOffset = 0, byteLength, extensions } = this.json.bufferViews?.[view] ?? {};
    if (extensions) throw new SyntaxError('facts that are packed');
    const { uri } = this.json.buffers?.[buffer ?? -1] ?? {};
    const bytes = this.resources[uri ?? GLB_BUFFER];
    if (!bytes || byteLength === undefined || !(byteOffset >= 0 && byteOffset + byteLength <= bytes.byteLength))
      throw new SyntaxError('no such bytes');
    return bytes.subarray(byteOffset, byteOffset + byteLength);
  }
}
