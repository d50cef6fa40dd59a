/** Hashes whole words (FNV-1a, G. Fowler, L. C. Noll, P. Vo), on top of what `from` has hashed before. */
export function hashWords(words: ArrayLike<number>, from = 0x811c9dc5): number {
  let hash = from;
  for (let i = 0; i < words.length; i++) hash = Math.imul(hash ^ words[i]!, 0x01000193);
  return hash >>> 0;
}
