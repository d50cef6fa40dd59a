import { Primitive } from '@gltf-transform/core';
import type { Transform } from '@gltf-transform/extensions';
import type { Geometry } from '../building-model';
import { basePicture, opacityIn, toSrgb } from './surface-material';

/**
 * Triangles of a primitive with its vertex colours, normals and places in the picture.
 *
 * @returns null if nothing can be shown; `bad` triangles name corners that are not there, or places that are no numbers
 */
export function primitiveGeometry(primitive: Primitive): { geometry: Geometry | null; bad: number } {
  const source = primitive.getAttribute('POSITION');
  if (!source) return { geometry: null, bad: 0 };
  const count = source.getCount();
  const positions = new Float32Array(count * 3);
  const point: number[] = [];
  for (let i = 0; i < count; i++) positions.set(source.getElement(i, point), i * 3);
  const listed = primitive.getIndices()?.getArray();
  const order = listed ? Uint32Array.from(listed) : Uint32Array.from({ length: count }, (_, i) => i);
  const all = triangulate(order, primitive.getMode());
  const indices = whereAllIsThere(all, positions);
  const bad = (all.length - indices.length) / 3;
  if (indices.length === 0) return { geometry: null, bad };
  if (bad > 0) positions.forEach((value, i) => (positions[i] = Number.isFinite(value) ? value : 0));
  const colors = vertexColors(primitive, count);
  const normals = vertexNormals(primitive, count);
  const uvs = pictureUvs(primitive, count);
  const geometry = { positions, indices, ...(colors && { colors }), ...(normals && { normals }), ...(uvs && { uvs }) };
  return { geometry, bad };
}

/** Triangles whose corners are all there, at places that are numbers. */
function whereAllIsThere(indices: Uint32Array, positions: Float32Array): Uint32Array {
  const isThere = (vertex: number) =>
    Number.isFinite(positions[vertex * 3]! + positions[vertex * 3 + 1]! + positions[vertex * 3 + 2]!);
  let kept = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [indices[i]!, indices[i + 1]!, indices[i + 2]!];
    if (!isThere(a) || !isThere(b) || !isThere(c)) continue;
    indices.set([a, b, c], kept);
    kept += 3;
  }
  return indices.subarray(0, kept);
}

function vertexNormals(primitive: Primitive, count: number): Float32Array | null {
  const source = primitive.getAttribute('NORMAL');
  if (!source || source.getCount() !== count) return null;
  const normals = new Float32Array(count * 3);
  const one: number[] = [];
  for (let i = 0; i < count; i++) normals.set(source.getElement(i, one), i * 3);
  return normals.every(Number.isFinite) ? normals : null;
}

/** Places in the base colour's picture, with KHR_texture_transform applied; null where there is no picture. */
function pictureUvs(primitive: Primitive, count: number): Float32Array | null {
  const { info, texture } = basePicture(primitive.getMaterial());
  if (!texture) return null;
  const transform = info?.getExtension<Transform>('KHR_texture_transform') ?? null;
  const source = primitive.getAttribute(`TEXCOORD_${transform?.getTexCoord() ?? info?.getTexCoord() ?? 0}`);
  if (!source || source.getCount() !== count) return null;
  const [ox, oy] = transform?.getOffset() ?? [0, 0];
  const [sx, sy] = transform?.getScale() ?? [1, 1];
  const [cos, sin] = [Math.cos(transform?.getRotation() ?? 0), Math.sin(transform?.getRotation() ?? 0)];
  const uvs = new Float32Array(count * 2);
  const one: number[] = [];
  for (let i = 0; i < count; i++) {
    const [u, v] = source.getElement(i, one) as [number, number];
    uvs[i * 2] = cos * sx * u + sin * sy * v + ox;
    uvs[i * 2 + 1] = -sin * sx * u + cos * sy * v + oy;
  }
  return uvs.every(Number.isFinite) ? uvs : null;
}

/** Strips and fans become separate triangles; lines and points give none. */
function triangulate(order: Uint32Array, mode: number): Uint32Array {
  if (mode === Primitive.Mode.TRIANGLES) return order.slice(0, order.length - (order.length % 3));
  const out: number[] = [];
  for (let i = 0; i + 2 < order.length; i++) {
    if (mode === Primitive.Mode.TRIANGLE_STRIP) {
      const flip = i % 2;
      out.push(order[i]!, order[i + 1 + flip]!, order[i + 2 - flip]!);
    } else if (mode === Primitive.Mode.TRIANGLE_FAN) {
      out.push(order[0]!, order[i + 1]!, order[i + 2]!);
    }
  }
  return Uint32Array.from(out);
}

/** COLOR_0 times the material's colour, as sRGB bytes; null where vertices are not painted. */
function vertexColors(primitive: Primitive, count: number): Uint8Array | null {
  const source = primitive.getAttribute('COLOR_0');
  if (!source || source.getCount() !== count) return null;
  const material = primitive.getMaterial();
  const base = material ? basePicture(material).factor : [1, 1, 1, 1];
  const opacity = opacityIn(material);
  const colors = new Uint8Array(count * 4);
  const one: number[] = [];
  for (let i = 0; i < count; i++) {
    source.getElement(i, one);
    for (let channel = 0; channel < 4; channel++) {
      const value = (one[channel] ?? 1) * base[channel]!;
      const shown = channel < 3 ? toSrgb(value) : opacity(value);
      colors[i * 4 + channel] = Math.round(Math.min(1, Math.max(0, shown)) * 255);
    }
  }
  return colors;
}
