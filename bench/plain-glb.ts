import { Document, Logger, type mat4, type Material } from '@gltf-transform/core';
import { multiply } from '@/core/math/mat4';
import type { BuildingModel } from '@/formats/building-model';

/** A picture of one pixel: what pictures weigh is not compared, but their places on the surface are. */
const PIXEL = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);
/** From Z up to glTF's Y up. */
const Z_UP_TO_Y_UP = Float64Array.of(1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0, 0, 0, 0, 1);

/** A model as a converter without ambition would write it: a node a placement, a mesh a geometry; pictures as one pixel. */
export function plainGlb(model: BuildingModel): Document {
  const document = new Document().setLogger(new Logger(Logger.Verbosity.SILENT));
  const buffer = document.createBuffer();
  const scene = document.createScene();
  const pictures = model.textures.map(({ name }) =>
    document.createTexture(name).setMimeType('image/png').setImage(new Uint8Array(PIXEL)),
  );
  const materials = model.materials.map(({ name, color, texture }): Material => {
    const material = document
      .createMaterial(name)
      .setBaseColorFactor(color)
      .setAlphaMode(color[3] < 1 ? 'BLEND' : 'OPAQUE')
      .setDoubleSided(true);
    return texture === undefined ? material : material.setBaseColorTexture(pictures[texture]!);
  });
  const meshes = new Map<string, ReturnType<Document['createMesh']>>();
  const accessor = (type: 'SCALAR' | 'VEC2' | 'VEC3', array: Uint32Array<ArrayBuffer> | Float32Array<ArrayBuffer>) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  for (const { element, geometry, material, matrix } of model.placements) {
    const key = `${geometry}/${material}`;
    let mesh = meshes.get(key);
    if (!mesh) {
      const { positions, indices, uvs } = model.geometries[geometry]!;
      const primitive = document
        .createPrimitive()
        .setMaterial(materials[material]!)
        .setIndices(accessor('SCALAR', indices.slice()))
        .setAttribute('POSITION', accessor('VEC3', positions.slice()))
        .setAttribute('NORMAL', accessor('VEC3', normalsOf(positions, indices)));
      if (uvs) primitive.setAttribute('TEXCOORD_0', accessor('VEC2', uvs.slice()));
      mesh = document.createMesh().addPrimitive(primitive);
      meshes.set(key, mesh);
    }
    scene.addChild(
      document
        .createNode(model.elements.guid[element])
        .setMesh(mesh)
        .setMatrix([...multiply(Z_UP_TO_Y_UP, matrix)] as mat4),
    );
  }
  return document;
}

/** Normals a vertex, by the areas of the faces around it: as readers hand them on. */
function normalsOf(positions: Float32Array, indices: Uint32Array): Float32Array<ArrayBuffer> {
  const normals = new Float32Array(positions.length);
  for (let i = 0; i + 2 < indices.length; i += 3) {
    const [a, b, c] = [indices[i]! * 3, indices[i + 1]! * 3, indices[i + 2]! * 3];
    const [ux, uy, uz] = [0, 1, 2].map((k) => positions[b + k]! - positions[a + k]!) as [number, number, number];
    const [vx, vy, vz] = [0, 1, 2].map((k) => positions[c + k]! - positions[a + k]!) as [number, number, number];
    const normal = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    for (const at of [a, b, c]) for (let k = 0; k < 3; k++) normals[at + k]! += normal[k]!;
  }
  for (let i = 0; i < normals.length; i += 3) {
    const length = Math.hypot(normals[i]!, normals[i + 1]!, normals[i + 2]!) || 1;
    for (let k = 0; k < 3; k++) normals[i + k]! /= length;
  }
  return normals;
}
