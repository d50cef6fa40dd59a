import { SaxesParser, type SaxesTagPlain } from 'saxes';
import { textPieces } from '../text/text-file';

export interface XmlHandlers {
  /** @param name without its prefix */
  open(name: string, attributes: Record<string, string>): void;
  /** @param text what stood directly within the element */
  close(name: string, text: string): void;
}

/**
 * Reads an XML file piece by piece, so that memory holds only what the handlers keep. Entities beyond the five of XML
 * itself are not followed.
 *
 * @throws Error with line and column if it is not well-formed
 */
export async function streamXml(path: string, handlers: XmlHandlers): Promise<void> {
  const parser = new SaxesParser();
  const texts: string[] = [];
  parser.on('error', (error) => {
    throw error;
  });
  parser.on('opentag', ({ name, attributes }: SaxesTagPlain) => {
    texts.push('');
    handlers.open(localName(name), attributes);
  });
  parser.on('text', (text) => {
    if (texts.length > 0) texts[texts.length - 1] += text;
  });
  parser.on('cdata', (text) => {
    if (texts.length > 0) texts[texts.length - 1] += text;
  });
  parser.on('closetag', ({ name }) => handlers.close(localName(name), (texts.pop() ?? '').trim()));
  for await (const piece of textPieces(path)) parser.write(piece);
  parser.close();
}

function localName(name: string): string {
  return name.slice(name.indexOf(':') + 1);
}
