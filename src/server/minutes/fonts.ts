import { readFileSync } from 'node:fs';
import { join } from 'node:path';

export type Weight = 400 | 700;

/** A font file and the characters that it is for. */
export interface FontFile {
  /** Under which a document knows it. */
  name: string;
  read(): Buffer;
}

/** Families in the order in which they are asked for a character, each with its files by ranges of characters. */
const FAMILIES = ['atkinson-hyperlegible', 'noto-sans', 'noto-sans-arabic', 'noto-sans-hebrew', 'noto-emoji'] as const;
/** Characters that stand as a picture where they stand alone, although other fonts have them as letters. */
const EMOJI = /\p{Emoji_Presentation}|\p{Extended_Pictographic}\uFE0F/u;

interface Subset {
  family: string;
  subset: string;
  ranges: [number, number][];
}

let subsets: Subset[] | null = null;
const contents = new Map<string, Buffer>();

function home(): string {
  return join(process.env.YURTA_HOME ?? process.cwd(), 'node_modules', '@fontsource');
}

/** The files of all families, as their packages list them. */
function allSubsets(): Subset[] {
  subsets ??= FAMILIES.flatMap((family) => {
    const listed = JSON.parse(readFileSync(join(home(), family, 'unicode.json'), 'utf8')) as Record<string, string>;
    // A numbered subset stands in brackets in the list and without them in the file's name.
    return Object.entries(listed).map(([subset, ranges]) => ({
      family,
      subset: subset.replace(/[[\]]/g, ''),
      ranges: ranges.split(',').map((range): [number, number] => {
        const [from, to = from] = range.replace('U+', '').split('-');
        return [parseInt(from!, 16), parseInt(to!, 16)];
      }),
    }));
  });
  return subsets;
}

/** The font for a character as people see it, which may be several code points; the first one decides. */
export function fontFor(grapheme: string, weight: Weight): FontFile {
  const code = grapheme.codePointAt(0)!;
  const has = ({ ranges }: Subset) => ranges.some(([from, to]) => code >= from && code <= to);
  const all = allSubsets();
  // Of the numbered subsets of pictures, the one that has the whole sequence.
  const hasAll = ({ ranges }: Subset) =>
    [...grapheme].every((one) => ranges.some(([from, to]) => one.codePointAt(0)! >= from && one.codePointAt(0)! <= to));
  const pictures = EMOJI.test(grapheme) ? all.filter(({ family }) => family === 'noto-emoji') : [];
  const found = pictures.find(hasAll) ?? pictures.find(has) ?? all.find(has) ?? all[0]!;
  const file = `${found.family}-${found.subset}-${weight}-normal.woff`;
  return {
    name: file,
    read() {
      const known = contents.get(file) ?? readFileSync(join(home(), found.family, 'files', file));
      contents.set(file, known);
      return known;
    },
  };
}
