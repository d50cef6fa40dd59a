import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readXmlTree } from './xml-tree';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'xml-'));
});
afterAll(() => rm(folder, { recursive: true }));

async function read(content: string | Buffer) {
  const path = join(folder, 'doc.xml');
  await writeFile(path, content);
  return readXmlTree(path);
}

describe('an XML document', () => {
  it('becomes nodes without prefixes, with attributes, texts and CDATA', async () => {
    const root = await read('<g:top a="1 &amp; 2"><g:x>one</g:x><g:x> t<i/>wo </g:x><y><![CDATA[<raw>]]></y></g:top>');
    expect([root.name, root.attributes]).toEqual(['top', { a: '1 & 2' }]);
    expect(root.all('x').map((node) => node.text)).toEqual(['one', 'two']);
    expect(root.find('y')!.text).toBe('<raw>');
    expect(root.find('z')).toBeUndefined();
  });

  it('is read in UTF-8 and, by its mark, in UTF-16, also across the pieces of the file', async () => {
    const long = `<a>${'ä🌿'.repeat(60_000)}</a>`;
    expect((await read(long)).text).toBe('ä🌿'.repeat(60_000));
    expect((await read(Buffer.from(`\uFEFF${long}`, 'utf16le'))).text.length).toBe('ä🌿'.repeat(60_000).length);
  });

  it('follows no entities of its own making, and says where it is not well-formed', async () => {
    const bomb = '<!DOCTYPE a [<!ENTITY b "bbbb"><!ENTITY c "&b;&b;&b;">]><a>&c;</a>';
    await expect(read(bomb)).rejects.toThrow(/entity/);
    const theft = '<!DOCTYPE a [<!ENTITY f SYSTEM "file:///etc/passwd">]><a>&f;</a>';
    await expect(read(theft)).rejects.toThrow(/entity/);
    await expect(read('<a><b></a>')).rejects.toThrow(/^1:\d+/);
    await expect(read('')).rejects.toThrow();
  });
});
