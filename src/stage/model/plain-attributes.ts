import { BufferAttribute, type BufferGeometry } from 'three';

/** Interleaved attributes become plain arrays, which workers and the search tree take. */
export function plainAttributes(geometry: BufferGeometry): void {
  for (const [name, attribute] of Object.entries(geometry.attributes)) {
    const { itemSize, count, normalized } = attribute;
    const source = attribute.array as Uint16Array;
    if (attribute instanceof BufferAttribute && source.length === itemSize * count) continue;
    const Kind = source.constructor as { new (length: number): Uint16Array };
    const stride = 'data' in attribute ? (attribute.data as { stride: number }).stride : itemSize;
    const offset = 'offset' in attribute ? (attribute.offset as number) : 0;
    const plain = new Kind(itemSize * count);
    for (let i = 0; i < count; i++)
      for (let c = 0; c < itemSize; c++) plain[i * itemSize + c] = source[i * stride + offset + c]!;
    geometry.setAttribute(name, new BufferAttribute(plain, itemSize, normalized));
  }
}
