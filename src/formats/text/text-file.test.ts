import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { decodeText, textLines } from './text-file';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'texts-'));
});
afterAll(() => rm(folder, { recursive: true }));

async function linesOf(content: string | Buffer): Promise<string[]> {
  const path = join(folder, 'text');
  await writeFile(path, content);
  const lines: string[] = [];
  for await (const some of textLines(path)) lines.push(...some);
  return lines;
}

it('is read however it is written', () => {
  const marked = Buffer.from('\uFEFFGröße', 'utf16le');
  expect(decodeText(marked)).toBe('Größe');
  expect(decodeText(Buffer.from(marked).swap16())).toBe('Größe');
  expect(decodeText(Buffer.from('\uFEFFGröße'))).toBe('Größe');
  expect(decodeText(Buffer.from('<?xml version="1.0" encoding="ISO-8859-1"?><a>Größe</a>', 'latin1'))).toContain(
    'Größe',
  );
  // Nobody can have meant these.
  expect(decodeText(Buffer.from('<?xml version="1.0" encoding="UTF-16"?><a>Größe</a>'))).toContain('Größe');
  expect(decodeText(Buffer.from('<?xml version="1.0" encoding="klingon"?><a>Größe</a>'))).toContain('Größe');
});

it('comes line by line, whatever ends a line and wherever a piece ends', async () => {
  expect(await linesOf('one\ntwo\r\nthree\rfour')).toEqual(['one', 'two', 'three', 'four']);
  expect(await linesOf('')).toEqual(['']);
  // Pieces are of a mebibyte: one ends between the two letters of a line's end, one within the ö.
  const long = 'x'.repeat(2 ** 20 - 1);
  expect(await linesOf(`${long}\r\n${long.slice(2)}ö\nend`)).toEqual([long, `${long.slice(2)}ö`, 'end']);
});

it('is given up at a line that no format has', async () => {
  await expect(linesOf('x'.repeat(17 * 2 ** 20))).rejects.toThrow('16 million letters');
});
