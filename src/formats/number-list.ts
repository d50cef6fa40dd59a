/** A list of numbers that grows, in typed memory: a fraction of what an array takes. */
export class NumberList<T extends Float64Array | Float32Array | Int32Array> {
  length = 0;

  constructor(private memory: T) {}

  push(...numbers: number[]): void {
    this.grow(numbers.length);
    for (let i = 0; i < numbers.length; i++) this.memory[this.length++] = numbers[i]!;
  }

  /** The same for three, which is what mostly comes: without a list of its own. */
  push3(a: number, b: number, c: number): void {
    this.grow(3);
    this.memory[this.length++] = a;
    this.memory[this.length++] = b;
    this.memory[this.length++] = c;
  }

  /** A stretch of another list. */
  append(from: T, start: number, count: number): void {
    this.grow(count);
    for (let i = 0; i < count; i++) this.memory[this.length++] = from[start + i]!;
  }

  private grow(by: number): void {
    if (this.length + by <= this.memory.length) return;
    const Kind = this.memory.constructor as new (length: number) => T;
    const larger = new Kind(Math.max(64, this.memory.length * 2, this.length + by));
    larger.set(this.memory);
    this.memory = larger;
  }

  at(i: number): number {
    return this.memory[i]!;
  }

  /** What is in the list, in its own memory. */
  get values(): T {
    return this.memory.subarray(0, this.length) as T;
  }
}
