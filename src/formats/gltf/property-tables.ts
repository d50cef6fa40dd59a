import type { PropertyValue } from '../building-model';

/** The part of EXT_structural_metadata (OGC 3D Metadata Specification, binary tables) that tells facts of features. */
export interface StructuralMetadata {
  schema?: MetadataSchema;
  schemaUri?: string;
  propertyTables?: PropertyTableJson[];
}

export interface MetadataSchema {
  classes?: Record<string, { name?: string; properties?: Record<string, ClassProperty> }>;
  enums?: Record<string, { valueType?: string; values?: { name: string; value: number }[] }>;
}

interface ClassProperty {
  name?: string;
  type: string;
  componentType?: string;
  enumType?: string;
  array?: boolean;
  count?: number;
  normalized?: boolean;
  offset?: Numbers;
  scale?: Numbers;
  noData?: unknown;
  default?: unknown;
  semantic?: string;
}

interface PropertyTableJson {
  name?: string;
  class: string;
  count: number;
  properties?: Record<string, TableProperty>;
}

interface TableProperty {
  values: number;
  arrayOffsets?: number;
  arrayOffsetType?: string;
  stringOffsets?: number;
  stringOffsetType?: string;
  offset?: Numbers;
  scale?: Numbers;
}

type Numbers = number | Numbers[];

/** A row of a table: what it is, and what is known of it. */
export interface FeatureRow {
  /** By the property that has the semantic NAME, or is called so; empty without one. */
  name: string;
  /** By the property with the semantic ID; undefined without one. */
  id?: string;
  /** By the properties' names. Vectors, matrices and lists are texts. */
  facts: Record<string, PropertyValue>;
}

interface Column {
  title: string;
  semantic: string;
  at: (row: number) => PropertyValue;
}

/** Bytes, how to read one, and what the largest stands for where it is a share of one. */
const COMPONENTS: Record<string, [size: number, read: (view: DataView, at: number) => number, whole: number]> = {
  INT8: [1, (view, at) => view.getInt8(at), 127],
  UINT8: [1, (view, at) => view.getUint8(at), 255],
  INT16: [2, (view, at) => view.getInt16(at, true), 32767],
  UINT16: [2, (view, at) => view.getUint16(at, true), 65535],
  INT32: [4, (view, at) => view.getInt32(at, true), 2 ** 31 - 1],
  UINT32: [4, (view, at) => view.getUint32(at, true), 2 ** 32 - 1],
  INT64: [8, (view, at) => Number(view.getBigInt64(at, true)), 2 ** 63],
  UINT64: [8, (view, at) => Number(view.getBigUint64(at, true)), 2 ** 64],
  FLOAT32: [4, (view, at) => view.getFloat32(at, true), 1],
  FLOAT64: [8, (view, at) => view.getFloat64(at, true), 1],
};
const WIDTHS: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };
/** What tells people nothing, and no file needs, is cut off here. */
const LONGEST = 2000;

/** A property table: facts in columns, a row a feature. */
export class PropertyTable {
  /** What its features are: the class in the schema. */
  readonly kind: string;
  /** What the table is called. */
  readonly name: string;
  readonly count: number;
  private readonly columns: Column[];

  /**
   * @param bytesOf the bytes of a buffer view
   * @throws SyntaxError where the table or its schema makes no sense
   */
  constructor(table: PropertyTableJson, schema: MetadataSchema, bytesOf: (bufferView: number) => Uint8Array) {
    const own = schema.classes?.[table.class];
    if (!own || !Number.isInteger(table.count)) throw new SyntaxError('no such class');
    this.kind = own.name || table.class;
    this.name = table.name || this.kind;
    this.count = table.count;
    this.columns = Object.entries(own.properties ?? {}).map(([key, property]): Column => {
      const values = table.properties?.[key];
      // A property that the table does not hold has its default in every row.
      const at = values ? column(property, values, schema, bytesOf) : () => undefined;
      const title = property.name || key;
      const instead = property.default === undefined ? null : told(property.default);
      const isNothing = (value: unknown) =>
        value === undefined || JSON.stringify(value) === JSON.stringify(property.noData);
      return {
        title,
        semantic: property.semantic ?? (/^name$/i.test(key) ? 'NAME' : ''),
        at: (row) => {
          const value = at(row);
          return isNothing(value) ? instead : told(named(value, property, schema));
        },
      };
    });
  }

  /** @throws SyntaxError where its values do not lie in the file */
  row(row: number): FeatureRow {
    if (!(row >= 0 && row < this.count)) throw new SyntaxError('no such row');
    const found: FeatureRow = { name: '', facts: {} };
    for (const { title, semantic, at } of this.columns) {
      const value = at(row);
      if (value === null) continue;
      found.facts[title] = value;
      if (semantic === 'NAME' && found.name === '') found.name = String(value);
      if (semantic === 'ID') found.id = String(value);
    }
    return found;
  }
}

/** Reads the values of a property, row by row. */
function column(
  property: ClassProperty,
  values: TableProperty,
  { enums }: MetadataSchema,
  bytesOf: (bufferView: number) => Uint8Array,
): (row: number) => unknown {
  const one = element(property, values, viewOf(bytesOf(values.values)), enums, bytesOf);
  if (!property.array) return one;
  if (property.count !== undefined) {
    const { count } = property;
    return (row) => list(row * count, (row + 1) * count, one);
  }
  if (values.arrayOffsets === undefined) throw new SyntaxError('lists without their offsets');
  const offset = offsets(bytesOf(values.arrayOffsets), values.arrayOffsetType);
  return (row) => list(offset(row), offset(row + 1), one);
}

function list(from: number, to: number, one: (i: number) => unknown): unknown[] {
  if (!(to >= from && to - from <= LONGEST)) throw new SyntaxError('a list of no sensible length');
  return Array.from({ length: to - from }, (_, i) => one(from + i));
}

/** Reads single values: of a property that is no list, those of its rows. */
function element(
  property: ClassProperty,
  values: TableProperty,
  view: DataView,
  enums: MetadataSchema['enums'],
  bytesOf: (bufferView: number) => Uint8Array,
): (i: number) => unknown {
  const { type } = property;
  if (type === 'BOOLEAN') return (i) => ((byteAt(view, i >>> 3) >>> (i & 7)) & 1) === 1;
  if (type === 'STRING') {
    if (values.stringOffsets === undefined) throw new SyntaxError('texts without their offsets');
    const offset = offsets(bytesOf(values.stringOffsets), values.stringOffsetType);
    const text = new TextDecoder();
    return (i) => {
      const [from, to] = [offset(i), offset(i + 1)];
      if (!(from <= to && to <= view.byteLength)) throw new SyntaxError('a text beyond its bytes');
      return text.decode(new Uint8Array(view.buffer, view.byteOffset + from, Math.min(to - from, LONGEST)));
    };
  }
  const width = type === 'ENUM' ? 1 : WIDTHS[type];
  const component =
    type === 'ENUM' ? (enums?.[property.enumType ?? '']?.valueType ?? 'UINT16') : property.componentType;
  const known = COMPONENTS[component ?? ''];
  if (!width || !known) throw new SyntaxError('values of an unknown type');
  const [size, read, whole] = known;
  const scale = numbers(values.scale ?? property.scale, width, 1);
  const shift = numbers(values.offset ?? property.offset, width, 0);
  const number = (i: number, part: number) => {
    const at = (i * width + part) * size;
    if (!(at + size <= view.byteLength)) throw new SyntaxError('a value beyond its bytes');
    const stored = read(view, at);
    // What stands for nothing is told by the number as it is stored.
    if (stored === property.noData) return stored;
    return (property.normalized ? Math.max(stored / whole, -1) : stored) * scale[part]! + shift[part]!;
  };
  if (width === 1) return (i) => number(i, 0);
  return (i) => Array.from({ length: width }, (_, part) => number(i, part));
}

/** As many numbers as a value has parts; one is for all of them. */
function numbers(given: Numbers | undefined, width: number, otherwise: number): number[] {
  const flat = given === undefined ? [otherwise] : ([given] as unknown[]).flat(3).map(Number);
  return Array.from({ length: width }, (_, i) => flat[i] ?? flat[0]!);
}

function offsets(bytes: Uint8Array, type = 'UINT32'): (i: number) => number {
  const view = viewOf(bytes);
  const known = COMPONENTS[type];
  if (!known || !type.startsWith('UINT')) throw new SyntaxError('offsets of an unknown type');
  const [size, read] = known;
  return (i) => {
    if (!((i + 1) * size <= view.byteLength)) throw new SyntaxError('an offset beyond its bytes');
    return read(view, i * size);
  };
}

function byteAt(view: DataView, at: number): number {
  if (at >= view.byteLength) throw new SyntaxError('a value beyond its bytes');
  return view.getUint8(at);
}

function viewOf(bytes: Uint8Array): DataView {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
}

/** Numbers of an enumeration as the names that they stand for. */
function named(value: unknown, { type, enumType }: ClassProperty, { enums }: MetadataSchema): unknown {
  if (type !== 'ENUM') return value;
  if (Array.isArray(value)) return value.map((one) => named(one, { type, enumType }, { enums }));
  return enums?.[enumType ?? '']?.values?.find((known) => known.value === value)?.name ?? value;
}

/** As a fact is told: lists as text. */
function told(value: unknown): PropertyValue {
  if (Array.isArray(value)) return value.map((one) => String(told(one))).join(', ');
  return typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean' ? value : null;
}
