import { Document, WebIO, type Material } from '@gltf-transform/core';
import type { Taken, TakenSurface } from './taken';

/**
 * What is taken along as a GLB: a node for each element, with its name, guid, category and storey, under one that turns Z up to
 * glTF's Y up and holds what is far from zero.
 */
export async function writeGlb({ name, elements }: Pick<Taken, 'name' | 'elements'>): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const zero = zeroOf(elements.flatMap(({ surfaces }) => surfaces));
  const root = document
    .createNode(name)
    .setRotation([-Math.SQRT1_2, 0, 0, Math.SQRT1_2])
    .setTranslation([zero[0], zero[2], -zero[1]]);
  document.createScene(name).addChild(root);
  const materials = new Map<string, Material>();
  const materialOf = (colour: TakenSurface['colour']): Material => {
    const key = colour.join();
    let material = materials.get(key);
    if (!material) {
      const [red, green, blue] = colour.map((part) => linear(part / 255));
      material = document
        .createMaterial()
        .setBaseColorFactor([red!, green!, blue!, colour[3] / 255])
        .setAlphaMode(colour[3] < 255 ? 'BLEND' : 'OPAQUE')
        .setDoubleSided(true)
        .setMetallicFactor(0)
        .setRoughnessFactor(1);
      materials.set(key, material);
    }
    return material;
  };
  for (const { guid, name: called, category, storey, surfaces } of elements) {
    const mesh = document.createMesh(called);
    for (const { colour, positions, indices } of surfaces) {
      const near = Float32Array.from(positions, (value, i) => value - zero[i % 3]!);
      mesh.addPrimitive(
        document
          .createPrimitive()
          .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(near).setBuffer(buffer))
          .setIndices(document.createAccessor().setType('SCALAR').setArray(indices).setBuffer(buffer))
          .setMaterial(materialOf(colour)),
      );
    }
    root.addChild(document.createNode(called).setMesh(mesh).setExtras({ guid, category, storey }));
  }
  return new WebIO().writeBinary(document);
}

/** A whole number of metres near the first corner, so that what is left fits into single precision. */
function zeroOf(surfaces: readonly TakenSurface[]): [number, number, number] {
  const [x = 0, y = 0, z = 0] = surfaces[0]?.positions ?? [];
  return Math.hypot(x, y, z) < 5000 ? [0, 0, 0] : [Math.round(x), Math.round(y), Math.round(z)];
}

/** sRGB to linear light, 0..1 (IEC 61966-2-1). */
function linear(value: number): number {
  return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4;
}
