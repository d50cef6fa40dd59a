/** An element of XML: its name, attributes, and what is in it. */
export type XmlNode = readonly [name: string, attributes: Record<string, string>, content: readonly XmlNode[] | string];

/** An element with a text, or with others in it. */
export function element(
  name: string,
  content: readonly (XmlNode | null)[] | string,
  attributes: Record<string, string> = {},
): XmlNode {
  return [name, attributes, typeof content === 'string' ? content : content.filter((one) => one !== null)];
}

/** A whole document. Characters that XML does not know are left out. */
export function xmlDocument(root: XmlNode): string {
  return `<?xml version="1.0" encoding="UTF-8"?>\n${written(root)}\n`;
}

function written([name, attributes, content]: XmlNode): string {
  const head = Object.entries(attributes)
    .map(([key, value]) => ` ${key}="${escaped(value)}"`)
    .join('');
  const inner = typeof content === 'string' ? escaped(content) : content.map(written).join('');
  return inner === '' ? `<${name}${head}/>` : `<${name}${head}>${inner}</${name}>`;
}

function escaped(text: string): string {
  return text

    .replace(
      /[\u0000-\u0008\u000B\u000C\u000E-\u001F\uFFFE\uFFFF]|[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/g,
      '',
    )
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')
    .replaceAll('\r', '&#13;');
}
