/** Collects buffer views, each at a multiple of eight bytes as the specification asks for. */
class Bytes {
  readonly views: { buffer: 0; byteOffset: number; byteLength: number; target?: number }[] = [];
  private whole = Buffer.alloc(0);

  add(bytes: ArrayBufferView | string): number {
    const own = typeof bytes === 'string' ? Buffer.from(bytes) : Buffer.from(bytes.buffer as ArrayBuffer);
    this.views.push({ buffer: 0, byteOffset: this.whole.length, byteLength: own.length });
    this.whole = Buffer.concat([this.whole, own, Buffer.alloc((8 - (own.length % 8)) % 8)]);
    return this.views.length - 1;
  }

  get buffers() {
    return [
      { byteLength: this.whole.length, uri: `data:application/octet-stream;base64,${this.whole.toString('base64')}` },
    ];
  }
}

export const SCHEMA = {
  id: 'estate',
  classes: {
    tree: {
      name: 'Tree',
      properties: {
        species: { name: 'Species', type: 'STRING', semantic: 'NAME' },
        height: { name: 'Height', type: 'SCALAR', componentType: 'FLOAT32', noData: -1 },
        age: { type: 'SCALAR', componentType: 'UINT16', required: true },
        shade: { type: 'SCALAR', componentType: 'UINT8', normalized: true, scale: 2, offset: 1 },
        felled: { type: 'BOOLEAN' },
        health: { type: 'ENUM', enumType: 'health' },
        crown: { type: 'VEC3', componentType: 'INT8' },
        birds: { type: 'STRING', array: true },
        years: { type: 'SCALAR', componentType: 'INT16', array: true, count: 2 },
        owner: { type: 'STRING', default: 'the town' },
      },
    },
  },
  enums: {
    health: {
      valueType: 'UINT8',
      values: [
        { name: 'Sound', value: 1 },
        { name: 'Ailing', value: 7 },
      ],
    },
  },
};

export interface TreeOptions {
  /** What becomes of the property table before it is written. */
  spoil?: (table: Record<string, { [key: string]: unknown }>) => void;
  schema?: object;
  ids?: object;
}

/** A park as glTF text: two triangles, of which each is a tree with facts, and a third that is none. */
export function trees({ spoil, schema = { schema: SCHEMA }, ids }: TreeOptions = {}): string {
  const bytes = new Bytes();
  const corner = (x: number) => [x, 0, 0, x + 1, 0, 0, x, 1, 0];
  bytes.add(Float32Array.from([0, 2, 4].flatMap(corner)));
  bytes.add(
    Uint8Array.of(
      1,
      0,
      0,
      0,
      1,
      0,
      0,
      0,
      1,
      0,
      0,
      0,
      0,
      0,
      0,
      0,
      0,
      0,
      0,
      0,
      0,
      0,
      0,
      0,
      9,
      0,
      0,
      0,
      9,
      0,
      0,
      0,
      9,
      0,
      0,
      0,
    ),
  );
  const properties = {
    species: { values: bytes.add('LimeÜlme'), stringOffsets: bytes.add(Uint32Array.of(0, 4, 9)) },
    height: { values: bytes.add(Float32Array.of(12.5, -1)) },
    age: { values: bytes.add(Uint16Array.of(80, 300)) },
    shade: { values: bytes.add(Uint8Array.of(255, 51)) },
    felled: { values: bytes.add(Uint8Array.of(0b10)) },
    health: { values: bytes.add(Uint8Array.of(7, 1)) },
    crown: { values: bytes.add(Int8Array.of(1, -2, 3, 4, 5, 6)) },
    birds: {
      values: bytes.add('tittitowl'),
      arrayOffsets: bytes.add(Uint8Array.of(0, 2, 3)),
      arrayOffsetType: 'UINT8',
      stringOffsets: bytes.add(Uint16Array.of(0, 3, 6, 9)),
      stringOffsetType: 'UINT16',
    },
    years: { values: bytes.add(Int16Array.of(1946, 1990, -5, 1723)) },
  };
  spoil?.(properties);
  const featureIds = [{ featureCount: 2, attribute: 0, propertyTable: 0, nullFeatureId: 9, ...ids }];
  return JSON.stringify({
    asset: { version: '2.0' },
    extensionsUsed: ['EXT_mesh_features', 'EXT_structural_metadata'],
    extensionsRequired: ['EXT_mesh_features'],
    extensions: {
      EXT_structural_metadata: { ...schema, propertyTables: [{ name: 'Trees', class: 'tree', count: 2, properties }] },
    },
    buffers: bytes.buffers,
    bufferViews: bytes.views.map((view, i) => (i === 1 ? { ...view, byteStride: 4 } : view)),
    accessors: [
      { bufferView: 0, componentType: 5126, count: 9, type: 'VEC3' },
      { bufferView: 1, componentType: 5121, count: 9, type: 'SCALAR' },
    ],
    meshes: [
      {
        primitives: [
          { attributes: { POSITION: 0, _FEATURE_ID_0: 1 }, extensions: { EXT_mesh_features: { featureIds } } },
        ],
      },
    ],
    nodes: [{ name: 'Park', mesh: 0 }],
    scenes: [{ nodes: [0] }],
  });
}
