/** Numbers may leave so many others out, for every one that is used, before a table of all costs too much. */
const SPARSE = 16;

/** Which row has a number. Of two rows with one number the first counts. */
export class RowsByNumber {
  /** Row plus one for every number up to the highest, where they are close enough together; zero for none. */
  private readonly table: Uint32Array | null = null;
  private readonly known = new Map<number, number>();

  /** @param numbers one a row */
  constructor(numbers: Uint32Array) {
    let highest = 0;
    for (let row = 0; row < numbers.length; row++) if (numbers[row]! > highest) highest = numbers[row]!;
    if (highest > numbers.length * SPARSE) {
      for (let row = 0; row < numbers.length; row++)
        if (!this.known.has(numbers[row]!)) this.known.set(numbers[row]!, row);
      return;
    }
    const table = new Uint32Array(highest + 1);
    for (let row = 0; row < numbers.length; row++) if (table[numbers[row]!] === 0) table[numbers[row]!] = row + 1;
    this.table = table;
  }

  /** -1 where no row has the number. */
  row(number: number): number {
    return this.table ? (this.table[number] ?? 0) - 1 : (this.known.get(number) ?? -1);
  }
}
