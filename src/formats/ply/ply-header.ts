/** Kinds of number under both of the names that are in use. */
const KINDS = {
  char: 'int8',
  uchar: 'uint8',
  short: 'int16',
  ushort: 'uint16',
  int: 'int32',
  uint: 'uint32',
  float: 'float32',
  double: 'float64',
} as const;

export type PlyNumber = (typeof KINDS)[keyof typeof KINDS];

export interface PlyProperty {
  name: string;
  /** Of each value. */
  kind: PlyNumber;
  /** Of the number of values, where the property is a list. */
  listCount?: PlyNumber;
}

export interface PlyElement {
  name: string;
  count: number;
  properties: PlyProperty[];
}

export interface PlyHeader {
  format: 'ascii' | 'binary_little_endian' | 'binary_big_endian';
  /** In the order in which their rows stand in the file. */
  elements: PlyElement[];
  comments: string[];
  /** Bytes of the header: where the rows begin. */
  length: number;
}

/** No header is longer. */
const LONGEST = 64 * 1024;

/**
 * Reads the header of a PLY file (G. Turk, The PLY Polygon File Format, 1994).
 *
 * @returns null if it is not whole or makes no sense
 */
export function readPlyHeader(bytes: Buffer): PlyHeader | null {
  const text = bytes.toString('latin1', 0, LONGEST);
  const whole = /^ply[ \t]*(\r\n|\n|\r)[\s\S]*?(?:\r\n|\n|\r)end_header[ \t]*\1/.exec(text);
  if (!whole) return null;
  const header: PlyHeader = { format: 'ascii', elements: [], comments: [], length: whole[0].length };
  for (const line of whole[0].split(whole[1]!)) {
    const [keyword, ...words] = line.trim().split(/\s+/);
    if (keyword === 'format') header.format = words[0] as PlyHeader['format'];
    if (keyword === 'comment' || keyword === 'obj_info') header.comments.push(line.trim().replace(/^\S+\s*/, ''));
    if (keyword === 'element') header.elements.push({ name: words[0] ?? '', count: Number(words[1]), properties: [] });
    if (keyword === 'property') {
      const property = readProperty(words);
      if (!property || header.elements.length === 0) return null;
      header.elements.at(-1)!.properties.push(property);
    }
  }
  const isSane =
    /^(ascii|binary_(little|big)_endian)$/.test(header.format) &&
    header.elements.every(({ count }) => Number.isSafeInteger(count) && count >= 0);
  return isSane ? header : null;
}

function readProperty(words: string[]): PlyProperty | null {
  if (words[0] !== 'list') {
    const [kind, name] = [kindOf(words[0]), words[1]];
    return kind && name ? { name, kind } : null;
  }
  const [listCount, kind, name] = [kindOf(words[1]), kindOf(words[2]), words[3]];
  return listCount && kind && name ? { name, kind, listCount } : null;
}

function kindOf(word = ''): PlyNumber | undefined {
  return (KINDS as Record<string, PlyNumber>)[word] ?? Object.values(KINDS).find((kind) => kind === word);
}
