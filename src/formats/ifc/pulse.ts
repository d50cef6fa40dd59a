const [SHARE, BEATS, PRODUCT, OPEN] = [0, 1, 2, 3];

/** How far the thread is that builds shapes, in memory that both threads see: it has no time to tell. */
export class Pulse {
  private readonly numbers: Float64Array;

  constructor(readonly memory = new SharedArrayBuffer(4 * Float64Array.BYTES_PER_ELEMENT)) {
    this.numbers = new Float64Array(memory);
  }

  /** Share done, 0..1. */
  get share(): number {
    return this.numbers[SHARE]!;
  }

  set share(share: number) {
    this.numbers[SHARE] = share;
  }

  /** Whether the library has opened the file. */
  get isOpen(): boolean {
    return this.numbers[OPEN] === 1;
  }

  opened(): void {
    this.numbers[OPEN] = 1;
    this.beat();
  }

  /** Express id of the product that is being built; 0 while several are at once. */
  get product(): number {
    return this.numbers[PRODUCT]!;
  }

  building(product: number): void {
    this.numbers[PRODUCT] = product;
    this.beat();
  }

  /** A number that grows as long as there is progress; 0 until the thread has begun with the file. */
  get beats(): number {
    return this.numbers[BEATS]!;
  }

  beat(): void {
    this.numbers[BEATS]!++;
  }
}
