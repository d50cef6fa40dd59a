export interface UniqueRows {
  /** For every row the number of its first equal, counted without repetitions. */
  of: Uint32Array;
  /** For every unique row the row where it first stands. */
  first: Uint32Array;
}

/**
 * Finds which rows of a table are equal, in the order in which they first appear.
 *
 * @param words the table, row after row, `width` words each
 */
export function uniqueRows(words: Int32Array | Uint32Array, width: number): UniqueRows {
  const rows = Math.floor(words.length / width);
  let slots = 16;
  while (slots < rows * 2) slots *= 2;
  const table = new Int32Array(slots).fill(-1);
  const of = new Uint32Array(rows);
  const first = new Uint32Array(rows);
  let count = 0;
  for (let row = 0; row < rows; row++) {
    const at = row * width;
    let hash = 0x9e3779b9;
    for (let i = 0; i < width; i++) {
      // The mixing step of MurmurHash3 (Austin Appleby, public domain).
      let word = Math.imul(words[at + i]!, 0xcc9e2d51);
      word = Math.imul((word << 15) | (word >>> 17), 0x1b873593);
      hash ^= word;
      hash = (Math.imul((hash << 13) | (hash >>> 19), 5) + 0xe6546b64) | 0;
    }
    hash ^= hash >>> 16;
    hash = Math.imul(hash, 0x85ebca6b);
    hash ^= hash >>> 13;
    for (let slot = hash & (slots - 1); ; slot = (slot + 1) & (slots - 1)) {
      const known = table[slot]!;
      if (known < 0) {
        table[slot] = count;
        first[count] = row;
        of[row] = count++;
        break;
      }
      const from = first[known]! * width;
      let same = true;
      for (let i = 0; same && i < width; i++) same = words[from + i] === words[at + i];
      if (same) {
        of[row] = known;
        break;
      }
    }
  }
  return { of, first: first.slice(0, count) };
}
