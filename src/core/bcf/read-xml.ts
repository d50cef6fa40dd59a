import { DOMParser, type Document, type Element, type Node } from '@xmldom/xmldom';

/** @throws Error if the text is not a well-formed document; entities of its own are not read */
export function parseXml(text: string): Element {
  if (/<!(DOCTYPE|ENTITY)/i.test(text)) throw new Error('it declares a document type');
  const document: Document = new DOMParser({
    onError(level, message) {
      if (level !== 'warning') throw new Error(message);
    },
  }).parseFromString(text, 'text/xml');
  return document.documentElement!;
}

/** Elements right below a node, of one name or of any; names are compared without their prefix. */
export function children(node: Node, name?: string): Element[] {
  return Array.from(node.childNodes).filter(
    (one): one is Element => one.nodeType === 1 && (name === undefined || (one as Element).localName === name),
  );
}

/** The first element below a node by a path of names. */
export function child(node: Node, ...path: string[]): Element | undefined {
  return path.reduce<Node | undefined>((at, name) => at && children(at, name)[0], node) as Element | undefined;
}

/** The text of the first element by a path of names, without blanks around it; empty if there is none. */
export function textAt(node: Node, ...path: string[]): string {
  return child(node, ...path)?.textContent?.trim() ?? '';
}

export function attribute(node: Element, name: string): string {
  return node.getAttribute(name)?.trim() ?? '';
}

/** The number in the first element by a path of names; null if there is none. */
export function numberAt(node: Node, ...path: string[]): number | null {
  const text = textAt(node, ...path);
  const value = Number(text);
  return text !== '' && Number.isFinite(value) ? value : null;
}
