const BACKSLASH = 92;
const QUOTE = 39;

const utf8 = new TextDecoder('utf-8', { fatal: true });
const western = new TextDecoder('windows-1252');
/** `\P…\` chooses a part of ISO 8859 for the `\S\` that follow. */
const pages = new Map<string, TextDecoder>();

/**
 * Decodes a text of a STEP file (ISO 10303-21, 6.4.3): doubled quotes and backslashes, `\X\`, `\X2\`, `\X4\`, `\S\`, `\P…\`.
 * Bytes beyond ASCII, which the standard forbids and programs write all the same, are taken as UTF-8 where they are that,
 * else as Western European. What looks like a directive but is none stays as it stands.
 *
 * @param from first byte within the quotes
 * @param to byte of the closing quote
 */
export function decodeStepText(bytes: Buffer, from: number, to: number): string {
  let isPlain = true;
  for (let i = from; i < to && isPlain; i++) {
    const byte = bytes[i]!;
    isPlain = byte < 128 && byte !== BACKSLASH && byte !== QUOTE;
  }
  if (isPlain) return bytes.toString('latin1', from, to);
  const text = decodeBytes(Buffer.from(bytes.subarray(from, to))).replaceAll("''", "'");
  if (!text.includes('\\')) return text;
  let page = 'A';
  return text.replace(
    /\\X2\\([0-9A-F]*)\\X0\\|\\X4\\([0-9A-F]*)\\X0\\|\\X\\([0-9A-F]{2})|\\S\\([ -~])|\\P([A-I])\\|\\\\/gi,
    (directive, two?: string, four?: string, one?: string, shifted?: string, chosen?: string) => {
      if (two !== undefined) return decodeUnits(two, 4);
      if (four !== undefined) return decodeUnits(four, 8);
      if (one !== undefined) return String.fromCharCode(parseInt(one, 16));
      if (shifted !== undefined) return pageDecoder(page).decode(Uint8Array.of(shifted.charCodeAt(0) + 128));
      if (chosen !== undefined) {
        page = chosen.toUpperCase();
        return '';
      }
      return directive === '\\\\' ? '\\' : directive;
    },
  );
}

/** A copy, because memory that threads share cannot be decoded. */
function decodeBytes(bytes: Buffer): string {
  try {
    return utf8.decode(bytes);
  } catch {
    return western.decode(bytes);
  }
}

function decodeUnits(hex: string, width: 4 | 8): string {
  let text = '';
  for (let at = 0; at + width <= hex.length; at += width) {
    const unit = parseInt(hex.slice(at, at + width), 16);
    // Two bytes may be half of a pair; four are a whole character.
    text += width === 4 ? String.fromCharCode(unit) : unit <= 0x10ffff ? String.fromCodePoint(unit) : '\ufffd';
  }
  return text;
}

function pageDecoder(letter: string): TextDecoder {
  let decoder = pages.get(letter);
  if (!decoder) {
    decoder = new TextDecoder(`iso-8859-${letter.charCodeAt(0) - 64}`);
    pages.set(letter, decoder);
  }
  return decoder;
}
