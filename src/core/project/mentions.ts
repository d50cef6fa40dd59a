/** Somebody who can be named in a text. */
export interface Named {
  id: string;
  name: string;
}

/**
 * Those whom a text names by @ and their whole name or their first name, each once. A first name that several have names
 * nobody; of names that begin alike the longest counts.
 */
export function mentionedIn<T extends Named>(text: string, people: readonly T[]): T[] {
  const found = new Set<T>();
  const words = text.toLocaleLowerCase();
  for (let at = words.indexOf('@'); at >= 0; at = words.indexOf('@', at + 1)) {
    if (at > 0 && /[\p{L}\p{N}]/u.test(words[at - 1]!)) continue; // a mail address
    const rest = words.slice(at + 1);
    const begins = (name: string) =>
      rest.startsWith(name.toLocaleLowerCase()) && !/^[\p{L}\p{N}]/u.test(rest.slice(name.length));
    const whole = people.filter(({ name }) => begins(name)).sort((a, b) => b.name.length - a.name.length)[0];
    const first = people.filter(({ name }) => begins(name.split(/\s+/)[0]!));
    const one = whole ?? (first.length === 1 ? first[0] : undefined);
    if (one) found.add(one);
  }
  return [...found];
}

/** What is being written after the last @ before the caret, and where that stands; null where nobody is being named. */
export function mentionAt(text: string, caret: number): { from: number; words: string } | null {
  const before = text.slice(0, caret);
  const match = /(?:^|[^\p{L}\p{N}])@([\p{L}\p{N} .'-]{0,40})$/u.exec(before);
  return match ? { from: caret - match[1]!.length - 1, words: match[1]! } : null;
}
