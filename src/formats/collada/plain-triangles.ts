import type { Document, Element } from '@xmldom/xmldom';
import { triangulatePolygon } from '../triangulate-polygon';

/**
 * Writes all polygons, strips and fans of a COLLADA document as triangles: the loader knows no strips, and divides polygons
 * as if none bent inwards. Holes in polygons are closed.
 */
export function plainTriangles(document: Document): void {
  const byId = new Map<string, Element>();
  for (const name of ['vertices', 'source'])
    for (const element of document.getElementsByTagName(name)) byId.set(element.getAttribute('id') ?? '', element);
  for (const kind of ['polylist', 'polygons', 'tristrips', 'trifans'] as const)
    for (const primitive of [...document.getElementsByTagName(kind)]) replace(document, byId, primitive, kind);
}

function replace(
  document: Document,
  byId: ReadonlyMap<string, Element>,
  primitive: Element,
  kind: 'polylist' | 'polygons' | 'tristrips' | 'trifans',
): void {
  const inputs = childrenOf(primitive, 'input');
  const offsets = inputs.map((input) => Number(input.getAttribute('offset') ?? 0));
  const stride = Math.max(0, ...offsets) + 1;
  const vertex = inputs.findIndex((input) => input.getAttribute('semantic') === 'VERTEX');
  const place = vertex < 0 ? null : placesOf(byId, inputs[vertex]!);
  const polygons = childrenOf(primitive, 'ph').flatMap((polygon) => childrenOf(polygon, 'p').slice(0, 1));
  const lists = [...childrenOf(primitive, 'p'), ...polygons].map((p) => numbersOf(p));
  const out: number[] = [];
  /** @param rows of the list, three */
  const triangle = (list: number[], ...rows: number[]) => {
    for (const row of rows) for (let i = 0; i < stride; i++) out.push(list[row * stride + i]!);
  };
  const polygon = (list: number[], start: number, count: number) => {
    if (count < 3 || (start + count) * stride > list.length) return;
    const rows =
      place && Array.from({ length: count }, (_, i) => place(list[(start + i) * stride + offsets[vertex]!]!));
    for (const corner of triangulated(rows, count)) triangle(list, start + corner);
  };
  if (kind === 'polylist') {
    const list = lists[0] ?? [];
    let start = 0;
    for (const count of childrenOf(primitive, 'vcount').flatMap(numbersOf)) {
      polygon(list, start, count);
      start += count;
    }
  } else {
    for (const list of lists) {
      const count = Math.floor(list.length / stride);
      if (kind === 'polygons') polygon(list, 0, count);
      else
        for (let i = 0; i + 2 < count; i++)
          if (kind === 'trifans') triangle(list, 0, i + 1, i + 2);
          else if (i % 2 === 0) triangle(list, i, i + 1, i + 2);
          else triangle(list, i + 1, i, i + 2);
    }
  }
  const triangles = document.createElementNS(primitive.namespaceURI, 'triangles');
  for (const name of ['material', 'name']) {
    const value = primitive.getAttribute(name);
    if (value !== null && value !== '') triangles.setAttribute(name, value);
  }
  triangles.setAttribute('count', String(out.length / stride / 3));
  for (const input of inputs) triangles.appendChild(input);
  const p = document.createElementNS(primitive.namespaceURI, 'p');
  p.appendChild(document.createTextNode(out.join(' ')));
  triangles.appendChild(p);
  primitive.parentNode!.replaceChild(triangles, primitive);
}

function triangulated(points: number[][] | null, count: number): number[] {
  const flat = points?.flat() ?? [];
  if (flat.length === count * 3 && flat.every(Number.isFinite)) return triangulatePolygon(flat);
  return Array.from({ length: count - 2 }, (_, i) => [0, i + 1, i + 2]).flat();
}

const places = new WeakMap<Element, number[]>();

/** Gives the place of a vertex, as far as the document says where its places stand. */
function placesOf(byId: ReadonlyMap<string, Element>, input: Element): ((vertex: number) => number[]) | null {
  const vertices = byAddress(byId, input);
  const position = vertices && childrenOf(vertices, 'input').find((one) => one.getAttribute('semantic') === 'POSITION');
  const source = position && byAddress(byId, position);
  const array = source && childrenOf(source, 'float_array')[0];
  if (!array) return null;
  let numbers = places.get(array);
  if (!numbers) places.set(array, (numbers = numbersOf(array)));
  const accessor = source.getElementsByTagName('accessor')[0];
  const stride = Number(accessor?.getAttribute('stride') || 3);
  return (vertex) => numbers.slice(vertex * stride, vertex * stride + 3);
}

function byAddress(byId: ReadonlyMap<string, Element>, input: Element): Element | undefined {
  return byId.get((input.getAttribute('source') ?? '').replace(/^#/, ''));
}

function childrenOf(element: Element, name: string): Element[] {
  return [...element.childNodes].filter((child): child is Element => child.nodeName === name);
}

function numbersOf(element: Element): number[] {
  const text = (element.textContent ?? '').trim();
  return text === '' ? [] : text.split(/\s+/).map(Number);
}
