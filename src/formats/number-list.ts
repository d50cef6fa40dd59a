/** A list of numbers that grows, in typed memory: a fraction of what an array takes. */
export class NumberList<T extends Float64Array | Float32Array | Int32Array> {
  length = 0;

  constructor(private memory: T) {}

  push(...numbers: number[]): void {
    if (this.length + numbers.length > this.memory.length) {
      const Kind = this.memory.constructor as new (length: number) => T;
      const larger = new Kind(Math.max(64, this.memory.length * 2, this.length + numbers.length));
      larger.set(this.memory);
      this.memory = larger;
    }
    for (let i = 0; i < numbers.length; i++) this.memory[this.length++] = numbers[i]!;
  }

  at(i: number): number {
    return this.memory[i]!;
  }

  /** What is in the list, in its own memory. */
  get values(): T {
    return this.memory.subarray(0, this.length) as T;
  }
}
