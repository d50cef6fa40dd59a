/** Sets of numbers `0..n-1` of which no two have one in common, at first each by itself (union-find, with path halving). */
export class DisjointSets {
  private readonly parent: Uint32Array;

  constructor(count: number) {
    this.parent = new Uint32Array(count);
    for (let i = 0; i < count; i++) this.parent[i] = i;
  }

  /** The number that stands for the set of another: the same for all in it. */
  find(at: number): number {
    const { parent } = this;
    while (parent[at] !== at) at = parent[at] = parent[parent[at]!]!;
    return at;
  }

  /** Makes one set of two; that of `into` goes on standing for it. */
  join(into: number, other: number): void {
    this.parent[this.find(other)] = this.find(into);
  }
}
