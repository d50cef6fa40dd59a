/** Code of the blank; below it are the tabulator and its like. */
const BLANK = 0x20;

/** The words of a line, parted by blanks and tabulators. */
export function wordsOf(line: string): string[] {
  const words: string[] = [];
  let from = -1;
  for (let at = 0; at < line.length; at++) {
    if (line.charCodeAt(at) > BLANK) {
      if (from < 0) from = at;
    } else if (from >= 0) {
      words.push(line.slice(from, at));
      from = -1;
    }
  }
  if (from >= 0) words.push(line.slice(from));
  return words;
}
