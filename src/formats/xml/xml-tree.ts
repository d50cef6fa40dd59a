import { streamXml } from './stream-xml';

/** An element of an XML document, names without their prefixes. */
export class XmlNode {
  readonly children: XmlNode[] = [];
  text = '';

  constructor(
    readonly name: string,
    readonly attributes: Record<string, string>,
  ) {}

  /** The first child of a name. */
  find(name: string): XmlNode | undefined {
    return this.children.find((child) => child.name === name);
  }

  /** All children of a name. */
  all(name: string): XmlNode[] {
    return this.children.filter((child) => child.name === name);
  }
}

/** Reads a whole document. @throws Error with line and column if it is not well-formed */
export async function readXmlTree(path: string): Promise<XmlNode> {
  const open: XmlNode[] = [];
  let root: XmlNode | null = null;
  await streamXml(path, {
    open(name, attributes) {
      const node = new XmlNode(name, attributes);
      open.at(-1)?.children.push(node);
      root ??= node;
      open.push(node);
    },
    close(_, text) {
      open.pop()!.text = text;
    },
  });
  if (!root) throw new Error('the document is empty');
  return root;
}
