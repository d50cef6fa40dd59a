import { dirname, sep } from 'node:path';
import { IfcAPI, LogLevel, type FlatMesh } from 'web-ifc';
import { libraryFile } from './compiled-library';
import { LibraryMemory } from './library-memory';
import { failedOn } from './product-failure';
import { Placements, type PlacementColumns } from './placements';
import type { Pulse } from './pulse';
import { plainSchema } from './schema-name';

/** An IFC file in memory that threads share. */
export interface SharedFile {
  bytes: SharedArrayBuffer;
  schema: string;
}

/** What is to be built of a file. */
export interface BuildOrder {
  /** Codes of the classes whose products are built, where they have a shape. */
  classes: number[];
  /** So many products are done with already, in the order of the classes, then of the file. */
  from: number;
  /** Express ids of products that are left out. */
  without: number[];
  /** Whether the library is asked for each product alone, so that one knows which it is at. */
  oneByOne: boolean;
}

/** What some of the products show, with the triangles of items that were not shown before. */
export interface ShownProducts {
  items: ItemTriangles;
  placements: PlacementColumns;
  /** Express id -> reason, of those whose shape the library cannot build. */
  failures: Map<number, string>;
  /** So many products are done with. */
  until: number;
}

/** Triangles of items, in columns: a row for every item that has a usable surface. */
export interface ItemTriangles {
  id: Uint32Array;
  positionsTo: Uint32Array;
  indicesTo: Uint32Array;
  positions: Float32Array;
  indices: Uint32Array;
}

/** The library is asked for this many products at once. */
const BATCH = 64;
/** What there is is handed over when it has so many coordinates or placements: several times a second. */
const HAND_OVER = { coordinates: 100_000, placements: 4000 };
/** Numbers the library gives a vertex: position and normal. */
const STRIDE = 6;

/** The reader library, ready to open a file. */
export async function loadLibrary(): Promise<IfcAPI> {
  const api = new IfcAPI();
  // Bundled, it would look for its other half beside the bundle.
  api.SetWasmPath(dirname(libraryFile()) + sep, true);
  await api.Init();
  api.SetLogLevel(LogLevel.LOG_LEVEL_OFF);
  return api;
}

/** The reader library with one file open: it builds the triangles of products. */
export class Tessellator {
  private constructor(
    private readonly api: IfcAPI,
    private readonly model: number,
  ) {}

  /** @returns null if the library cannot make sense of the file */
  static open(api: IfcAPI, file: SharedFile): Tessellator | null {
    const model = openModel(api, file);
    return model < 0 ? null : new Tessellator(api, model);
  }

  /** @param onShown takes what is there while the rest is still to come, in the order of the classes, then of the file */
  build({ classes, from, without, oneByOne }: BuildOrder, onShown: (shown: ShownProducts) => void, pulse: Pulse): void {
    const products = [...new Set(classes.flatMap((code) => [...this.api.GetLineIDsWithType(this.model, code)]))];
    const out = new Collector(this.api, this.model);
    const size = oneByOne ? 1 : BATCH;
    for (let at = from; at < products.length; at += size) {
      const batch = products.slice(at, at + size).filter((id) => !without.includes(id));
      // Asked for none, the library gives all.
      if (batch.length === 0) continue;
      pulse.building(oneByOne ? batch[0]! : 0);
      stream(this.api, this.model, batch, out, pulse);
      const until = Math.min(at + size, products.length);
      if (oneByOne || out.isWorthHandingOver) onShown(out.take(until));
      pulse.share = until / products.length;
    }
    onShown(out.take(products.length));
  }

  close(): void {
    this.api.Dispose();
  }
}

/** @returns the model's number, or a negative one */
function openModel(api: IfcAPI, { bytes, schema }: SharedFile): number {
  const all = Buffer.from(bytes);
  try {
    return api.OpenModelFromCallback(
      (offset: number, length: number) => {
        const piece = all.subarray(offset, offset + length);
        return offset === 0 ? withPlainSchema(piece, schema) : piece;
      },
      { COORDINATE_TO_ORIGIN: false, CIRCLE_SEGMENTS: 16 },
    );
  } catch {
    // Whatever the library throws of a file that it cannot open, the file is damaged.
    return -1;
  }
}

/**
 * The library throws for a whole batch when one shape fails, so a failing batch is tried again one by one.
 *
 * @throws WebAssembly.RuntimeError if it breaks down, after which nothing of it can be used
 */
function stream(api: IfcAPI, model: number, batch: number[], out: Collector, pulse: Pulse): void {
  const seen = new Set<number>();
  const once = (mesh: FlatMesh) => {
    pulse.beat();
    if (seen.has(mesh.expressID)) return;
    seen.add(mesh.expressID);
    out.add(mesh);
  };
  try {
    api.StreamMeshes(model, batch, once);
  } catch (failure) {
    if (failure instanceof WebAssembly.RuntimeError) throw failure;
    for (const id of batch.filter((candidate) => !seen.has(candidate))) {
      pulse.building(id);
      try {
        api.StreamMeshes(model, [id], once);
      } catch (error) {
        if (error instanceof WebAssembly.RuntimeError) throw error;
        out.failures.set(id, failedOn(error));
      }
    }
  }
}

/** Copies triangles out of the library's memory, of every item once; those without a usable surface are left out. */
class Collector {
  failures = new Map<number, string>();
  private readonly memory: LibraryMemory;
  private readonly placements: Placements;
  private readonly known = new Set<number>();
  private items = { id: [] as number[], positionsTo: [] as number[], indicesTo: [] as number[] };
  private positions: Float32Array[] = [];
  private indices: Uint32Array[] = [];
  private positionsTo = 0;
  private indicesTo = 0;

  constructor(
    private readonly api: IfcAPI,
    private readonly model: number,
  ) {
    this.memory = new LibraryMemory(api);
    this.placements = new Placements(this.memory);
  }

  add(mesh: FlatMesh): void {
    const { item } = this.placements;
    for (let row = this.placements.add(mesh); row < item.length; row++) {
      if (this.known.has(item[row]!)) continue;
      this.known.add(item[row]!);
      this.copy(item[row]!);
    }
  }

  get isWorthHandingOver(): boolean {
    return this.positionsTo >= HAND_OVER.coordinates || this.placements.item.length >= HAND_OVER.placements;
  }

  /** @param until so many products are done with */
  take(until: number): ShownProducts {
    const { failures } = this;
    this.failures = new Map();
    return { items: this.takeItems(), placements: this.placements.take(), failures, until };
  }

  private takeItems(): ItemTriangles {
    const { id, positionsTo, indicesTo } = this.items;
    const positions = new Float32Array(this.positionsTo);
    const indices = new Uint32Array(this.indicesTo);
    this.positions.forEach((column, i) => positions.set(column, i === 0 ? 0 : positionsTo[i - 1]));
    this.indices.forEach((column, i) => indices.set(column, i === 0 ? 0 : indicesTo[i - 1]));
    this.items = { id: [], positionsTo: [], indicesTo: [] };
    this.positions = [];
    this.indices = [];
    this.positionsTo = this.indicesTo = 0;
    return {
      id: Uint32Array.from(id),
      positionsTo: Uint32Array.from(positionsTo),
      indicesTo: Uint32Array.from(indicesTo),
      positions,
      indices,
    };
  }

  private copy(item: number): void {
    const source = this.api.GetGeometry(this.model, item);
    try {
      // The library makes numbers of 32 bits when it is asked where they lie: before, it knows of none.
      const verticesAt = source.GetVertexData() / 4;
      const indicesAt = source.GetIndexData() / 4;
      const positions = new Float32Array((source.GetVertexDataSize() / STRIDE) * 3);
      const count = source.GetIndexDataSize();
      const { floats, words } = this.memory;
      let isUsable = count > 0;
      for (let from = verticesAt, to = 0; to < positions.length; from += STRIDE, to += 3) {
        for (let axis = 0; axis < 3; axis++) {
          const value = floats[from + axis]!;
          positions[to + axis] = value;
          isUsable &&= Number.isFinite(value);
        }
      }
      if (isUsable) this.keep(item, positions, words.slice(indicesAt, indicesAt + count));
    } finally {
      source.delete();
    }
  }

  private keep(item: number, positions: Float32Array, indices: Uint32Array): void {
    this.positions.push(positions);
    this.indices.push(indices);
    this.items.id.push(item);
    this.items.positionsTo.push((this.positionsTo += positions.length));
    this.items.indicesTo.push((this.indicesTo += indices.length));
  }
}

/** The schemas that the library knows by name. */
const KNOWN = /^(IFC2X3|IFC4|IFC4X1|IFC4X2|IFC4X3|IFC4X3_ADD[12]|IFC4X3_RC[1-4])$/;

/** The beginning of a file, with the plain schema in place of an addendum's or corrigendum's name, such as IFC4 for IFC4_ADD2. */
function withPlainSchema(head: Buffer, schema: string): Buffer {
  const copy = Buffer.from(head);
  const at = KNOWN.test(schema) ? -1 : copy.toString('latin1').toUpperCase().indexOf(`'${schema}'`);
  if (at >= 0) copy.write(`'${plainSchema(schema)}'`.padEnd(schema.length + 2), at, 'latin1');
  return copy;
}
