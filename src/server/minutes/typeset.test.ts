import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fontFor } from './fonts';
import { Typesetter, type Sheet } from './typeset';

/** A sheet whose letters are all one point wide at size 1, and that remembers what is drawn where. */
function recorder() {
  const drawn: { text: string; x: number; font: string }[] = [];
  let font = '';
  let size = 0;
  const sheet: Sheet = {
    registerFont: () => undefined,
    font: (name) => void (font = name),
    fontSize: (points) => void (size = points),
    widthOfString: (text) => [...text].length * size,
    text: (text, x) => void drawn.push({ text, x, font }),
  };
  return { sheet, drawn, type: new Typesetter(sheet) };
}

function shown(text: string, width = 1000) {
  const { type, drawn } = recorder();
  return type.lines(text, width, { size: 1 }).map((line, i) => {
    drawn.length = 0;
    type.draw(line, 0, i, width, { size: 1 });
    return drawn.map((one) => ({ ...one })).sort((a, b) => a.x - b.x);
  });
}
const words = (text: string, width?: number) => shown(text, width).map((line) => line.map((one) => one.text));

describe('set text', () => {
  it('stands in the order in which it is read, whatever is read from the right in it', () => {
    // Unicode Standard Annex 9: digits after Latin letters go with them, digits between others stand by themselves.
    expect(words('שלום text 123 עולם')[0]).toEqual(['עולם', 'text', '123', 'שלום']);
    expect(words('שלום 123 text עולם')[0]).toEqual(['עולם', 'text', '123', 'שלום']);
    expect(words('the car is THE מכונית אדומה here')[0]).toEqual([
      'the',
      'car',
      'is',
      'THE',
      'אדומה',
      'מכונית',
      'here',
    ]);
  });

  it('turns brackets with what they are about, and begins such lines at the right', () => {
    const [line] = shown('שלום (אבג)', 20);
    expect(line!.map(({ text }) => text)).toEqual(['(', 'אבג', ')', 'שלום']);
    expect(line!.at(-1)!.x + 4).toBe(20);
    expect(shown('Hello')[0]![0]!.x).toBe(0);
  });

  it('breaks at words, keeps the breaks of the text, and breaks a word only where it is longer than a line', () => {
    expect(words('one two three', 8).map((line) => line.join(' '))).toEqual(['one two', 'three']);
    expect(words('one\n\ntwo', 8).map((line) => line.join(' '))).toEqual(['one', '', 'two']);
    expect(words('abcdefghij', 4).map((line) => line.join(''))).toEqual(['abcd', 'efgh', 'ij']);
  });

  it('loses no letter and never leaves the width, whatever is written', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 60 }), fc.integer({ min: 8, max: 30 }), (text, width) => {
        const { type, drawn } = recorder();
        const lines = type.lines(text, width, { size: 1 });
        for (const line of lines) if (line.runs.length > 1) expect(line.width).toBeLessThanOrEqual(width);
        for (const line of lines) type.draw(line, 0, 0, width, { size: 1 });
        const count = (all: string) => [...all.replace(/\s/g, '')].length;
        expect(count(drawn.map((one) => one.text).join(''))).toBe(count(text));
      }),
      { numRuns: 200 },
    );
  });
});

describe('fonts', () => {
  it('have a file for each script and for pictures, and pictures stay pictures', () => {
    const families = ['a', 'ł', 'Ж', 'ψ', 'ש', 'ع', '👍', '✅', '❤️', '🇩🇪'].map((one) => fontFor(one, 400).name.replace(/-[^-]+(-ext)?-400-normal\.woff$/, '')); // prettier-ignore
    expect(families).toEqual(['atkinson-hyperlegible', 'atkinson-hyperlegible', 'noto-sans', 'noto-sans', 'noto-sans-hebrew', 'noto-sans-arabic', 'noto-emoji', 'noto-emoji', 'noto-emoji', 'noto-emoji']); // prettier-ignore
  });

  it('lie in files that can be opened', () => {
    for (const one of ['a', 'ש', '👍']) {
      const { read } = fontFor(one, 700);
      expect(read().subarray(0, 4).toString('latin1')).toBe('wOFF');
    }
  });
});
