import type { FlatMesh, PlacedGeometry, Vector } from 'web-ifc';
import { NumberList } from '../number-list';
import type { LibraryMemory } from './library-memory';

/** Where products show which item: a row for every placement, in columns, so that a thread hands them over without a copy. */
export interface PlacementColumns {
  /** Express ids. */
  product: Uint32Array;
  item: Uint32Array;
  /** sRGB and opacity, four numbers each; plain opaque white where the library found none. */
  colour: Float64Array;
  /** Sixteen numbers each, column-major, from the item's frame to the library's: metres, Y up. */
  matrix: Float64Array;
}

/**
 * A placement in the library's memory (its struct `IfcPlacedGeometry`): colour, matrix, the matrix once more as plain
 * numbers, and the item's express id. Counted in numbers of eight bytes.
 */
const LAID_OUT = { size: 37, colour: 0, matrix: 20, item: 36 };

/**
 * Collects what the library says of placements. It is asked for one number after the other, which takes longer than
 * building the shapes, so placements are read where they lie in its memory. Whether they lie there as expected shows the
 * first one of a file, which is read in both ways; where they do not, the library is asked for all.
 */
export class Placements {
  /** Of those that were not taken yet. */
  item: number[] = [];
  private product: number[] = [];
  private colour = new NumberList(new Float64Array(0));
  private matrix = new NumberList(new Float64Array(0));
  private isAsExpected: boolean | null = null;

  constructor(private readonly memory: LibraryMemory) {}

  /** Adds the placements of one product. Returns the row of the first, among those that were not taken yet. */
  add({ expressID, geometries }: FlatMesh): number {
    const first = this.item.length;
    const lies = this.span(geometries);
    if (lies && lies.end > lies.start) this.isAsExpected ??= this.isLike(lies.start, geometries.get(0));
    if (lies && this.isAsExpected) for (let at = lies.start; at < lies.end; at += LAID_OUT.size) this.read(at);
    else for (let i = 0; i < geometries.size(); i++) this.ask(geometries.get(i));
    for (let row = first; row < this.item.length; row++) this.product.push(expressID);
    return first;
  }

  /** Those that were not taken yet. */
  take(): PlacementColumns {
    const taken = {
      product: Uint32Array.from(this.product),
      item: Uint32Array.from(this.item),
      colour: this.colour.values.slice(),
      matrix: this.matrix.values.slice(),
    };
    this.item = [];
    this.product = [];
    this.colour = new NumberList(new Float64Array(0));
    this.matrix = new NumberList(new Float64Array(0));
    return taken;
  }

  /** Where the rows of a list begin and end, in doubles; null where it does not look like a list of placements. */
  private span(list: Vector<PlacedGeometry>): { start: number; end: number } | null {
    // A handle of Embind knows where its object lies, and a vector of C++ begins with where its rows begin and end.
    const at = (list as { $$?: { ptr?: number } }).$$?.ptr;
    if (typeof at !== 'number' || at % 4 !== 0) return null;
    const { doubles, words } = this.memory;
    const [start, end] = [words[at / 4]! / 8, words[at / 4 + 1]! / 8];
    const isWhole = Number.isInteger(start) && Number.isInteger((end - start) / LAID_OUT.size);
    return isWhole && start <= end && end <= doubles.length ? { start, end } : null;
  }

  private ask({ geometryExpressID, color, flatTransformation }: PlacedGeometry): void {
    this.item.push(geometryExpressID);
    this.colour.push(color.x, color.y, color.z, color.w);
    this.matrix.push(...flatTransformation);
  }

  private read(at: number): void {
    const { doubles, words } = this.memory;
    this.item.push(words[(at + LAID_OUT.item) * 2]!);
    this.colour.append(doubles, at + LAID_OUT.colour, 4);
    this.matrix.append(doubles, at + LAID_OUT.matrix, 16);
  }

  private isLike(at: number, { geometryExpressID, color, flatTransformation }: PlacedGeometry): boolean {
    const { doubles, words } = this.memory;
    const said = [color.x, color.y, color.z, color.w];
    return (
      words[(at + LAID_OUT.item) * 2] === geometryExpressID &&
      said.every((value, c) => Object.is(value, doubles[at + LAID_OUT.colour + c])) &&
      flatTransformation.every((value, c) => Object.is(value, doubles[at + LAID_OUT.matrix + c]))
    );
  }
}
