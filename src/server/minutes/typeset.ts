import bidiFactory from 'bidi-js';
import { fontFor, type Weight } from './fonts';

const bidi = bidiFactory();
const graphemes = new Intl.Segmenter(undefined, { granularity: 'grapheme' });
const words = new Intl.Segmenter(undefined, { granularity: 'word' });
/** Leading to the size of the letters. */
const LEADING = 1.4;
/** From the upper edge of a line down to where its letters stand. */
const ASCENT = 1.02;

/** As much of a document as setting text needs. */
export interface Sheet {
  registerFont(name: string, source: Buffer): unknown;
  font(name: string): unknown;
  fontSize(size: number): unknown;
  widthOfString(text: string): number;
  text(text: string, x: number, y: number, options: { lineBreak: false; baseline: 'alphabetic' }): unknown;
}

export interface TextStyle {
  size: number;
  weight?: Weight;
}

/** Letters of one font that are drawn in one go. */
interface Run {
  text: string;
  font: string;
  width: number;
}

/** A line of text, its runs in the order in which they stand on paper from left to right. */
export interface Line {
  runs: Run[];
  width: number;
  /** Whether it begins at the right. */
  isRightToLeft: boolean;
}

/** Sets text of any script: the font that has each character, lines that fit, and each line in the order in which it is read. */
export class Typesetter {
  private readonly registered = new Set<string>();

  constructor(private readonly sheet: Sheet) {}

  /** Breaks text into lines that are at most so wide, in points. Line breaks of the text are kept. */
  lines(text: string, width: number, style: TextStyle): Line[] {
    return text.split(/\r\n|[\n\r\u2028\u2029]/).flatMap((paragraph) => this.paragraph(paragraph, width, style));
  }

  /** Height of so many lines, in points. */
  height(lines: number, { size }: TextStyle): number {
    return lines * size * LEADING;
  }

  /** Draws a line with its upper left corner there; one that is read from the right stands at the right of the width. */
  draw(line: Line, x: number, y: number, width: number, { size }: TextStyle): void {
    let at = line.isRightToLeft ? x + width - line.width : x;
    for (const run of line.runs) {
      this.sheet.font(run.font);
      this.sheet.fontSize(size);
      // A blank draws nothing, and a document would leave it out at the end of a line.
      if (run.text.trim()) this.sheet.text(run.text, at, y + ASCENT * size, { lineBreak: false, baseline: 'alphabetic' }); // prettier-ignore
      at += run.width;
    }
  }

  private paragraph(text: string, width: number, style: TextStyle): Line[] {
    if (text === '') return [{ runs: [], width: 0, isRightToLeft: false }];
    const embedding = bidi.getEmbeddingLevels(text);
    const isRightToLeft = (embedding.paragraphs[0]!.level & 1) === 1;
    const lines: Line[] = [];
    for (const [start, end] of this.breaks(text, width, style)) {
      const shown = text.slice(start, end).trimEnd();
      const runs = this.inOrder(text, start, start + shown.length, embedding, style);
      lines.push({ runs, width: runs.reduce((sum, run) => sum + run.width, 0), isRightToLeft });
    }
    return lines;
  }

  /** From where to where each line goes: at words as far as they fit, within a word where it is longer than a line. */
  private breaks(text: string, width: number, style: TextStyle): [number, number][] {
    const lines: [number, number][] = [];
    let start = 0;
    let used = 0;
    const put = (from: number, isBlank: boolean, size: number) => {
      if (used + size > width && from > start && !isBlank) {
        lines.push([start, from]);
        start = from;
        used = 0;
      }
      used += size;
    };
    for (const { segment, index } of joined(text)) {
      const size = this.widthOf(segment.trimEnd(), style);
      const blank = this.widthOf(segment, style) - size;
      if (size <= width) put(index, false, size);
      else
        for (const part of graphemes.segment(segment))
          put(index + part.index, !part.segment.trim(), this.widthOf(part.segment, style));
      used += blank;
    }
    lines.push([start, text.length]);
    return lines;
  }

  /** The runs of a line as they stand on paper. */
  private inOrder(
    text: string,
    start: number,
    end: number,
    embedding: ReturnType<typeof bidi.getEmbeddingLevels>,
    style: TextStyle,
  ): Run[] {
    if (end <= start) return [];
    const line = text.slice(start, end);
    // Each character as people see it, with its font and the level at which it stands.
    const pieces = [...graphemes.segment(line)].map(({ segment, index }) => ({
      text: segment,
      level: embedding.levels[start + index]!,
      font: this.fontOf(segment, style.weight),
    }));
    // Turned round from the highest level down, as the algorithm says (UAX 9, L2), over whole characters.
    const highest = Math.max(...pieces.map(({ level }) => level));
    const lowestOdd = Math.min(...pieces.map(({ level }) => (level & 1 ? level : Infinity)));
    let order = pieces.map((_, i) => i);
    for (let level = highest; level >= lowestOdd; level--) order = turned(order, (i) => pieces[i]!.level >= level);
    const runs: (Run & { isBlank: boolean; last: number; level: number })[] = [];
    for (const i of order) {
      const { text: letters, level, font } = pieces[i]!;
      const isOdd = (level & 1) === 1;
      const shown = isOdd ? (bidi.getMirroredCharacter(letters) ?? letters) : letters;
      const isBlank = !letters.trim();
      const before = runs.at(-1);
      const follows = before && before.font === font && before.level === level && !before.isBlank && !isBlank;
      // Letters of a word that is read from the right are handed on in the order in which they are read: the font turns them.
      if (follows && isOdd && before.last === i + 1) Object.assign(before, { text: shown + before.text, last: i });
      else if (follows && !isOdd && before.last === i - 1)
        Object.assign(before, { text: before.text + shown, last: i });
      else runs.push({ text: shown, font, width: 0, isBlank, last: i, level });
    }
    return runs.map(({ text: letters, font, level }) => {
      // A font turns only letters that it knows to be read from the right; signs between them are turned here.
      const isTurned = (level & 1) === 1 && !/[\p{Script=Arabic}\p{Script=Hebrew}]/u.test(letters);
      const shown = isTurned ? [...graphemes.segment(letters)].map(({ segment }) => segment).reverse().join('') : letters; // prettier-ignore
      return { text: shown, font, width: this.measure(shown, font, style.size) };
    });
  }

  private widthOf(text: string, style: TextStyle): number {
    let sum = 0;
    let run = '';
    let font = '';
    for (const { segment } of graphemes.segment(text)) {
      const next = this.fontOf(segment, style.weight);
      if (next !== font && run) sum += this.measure(run, font, style.size);
      run = next === font ? run + segment : segment;
      font = next;
    }
    return run ? sum + this.measure(run, font, style.size) : sum;
  }

  private measure(text: string, font: string, size: number): number {
    this.sheet.font(font);
    this.sheet.fontSize(size);
    return this.sheet.widthOfString(text);
  }

  private fontOf(grapheme: string, weight: Weight = 400): string {
    const { name, read } = fontFor(grapheme, weight);
    if (!this.registered.has(name)) {
      this.sheet.registerFont(name, read());
      this.registered.add(name);
    }
    return name;
  }
}

/** Words with the punctuation and the blanks that follow them. */
function joined(text: string): { segment: string; index: number }[] {
  const parts: { segment: string; index: number }[] = [];
  for (const { segment, index, isWordLike } of words.segment(text)) {
    const before = parts.at(-1);
    if (before && !isWordLike && !/\s$/.test(before.segment)) before.segment += segment;
    else if (before && !segment.trim()) before.segment += segment;
    else parts.push({ segment, index });
  }
  return parts;
}

/** The same order with every stretch that belongs together turned round. */
function turned(order: readonly number[], belongs: (i: number) => boolean): number[] {
  const result: number[] = [];
  let stretch: number[] = [];
  for (const i of order) {
    if (belongs(i)) stretch.push(i);
    else {
      result.push(...stretch.reverse(), i);
      stretch = [];
    }
  }
  return [...result, ...stretch.reverse()];
}
