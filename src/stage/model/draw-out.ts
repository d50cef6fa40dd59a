import {
  BufferAttribute,
  BufferGeometry,
  InstancedMesh,
  Matrix3,
  Matrix4,
  Mesh,
  Vector3,
  type MeshStandardMaterial,
  type Object3D,
} from 'three';
import { plainAttributes } from './plain-attributes';

/** The attribute of an instanced mesh that holds the element of every place. */
const ELEMENT_OF_PLACE = '_FEATURE_ID_0';

/**
 * Draws out what a tile sends once and shows in many places: one mesh for each look, whose vertices know their element.
 * So everything else, from hiding to picking, is the same for all tiles, and no place costs a draw call.
 *
 * @param scene of a tile; its instanced meshes are replaced
 */
export function drawOut(scene: Object3D): void {
  const byLook = new Map<string, InstancedMesh[]>();
  scene.traverse((object) => {
    if (!(object instanceof InstancedMesh)) return;
    const look = lookOf(object as InstancedMesh<BufferGeometry, MeshStandardMaterial>);
    byLook.set(look, [...(byLook.get(look) ?? []), object]);
  });
  for (const meshes of byLook.values()) {
    const mesh = new Mesh(drawnOut(meshes), meshes[0]!.material);
    // All of a tile stands in one frame.
    frameIn(scene, meshes[0]!).decompose(mesh.position, mesh.quaternion, mesh.scale);
    for (const old of meshes) {
      old.removeFromParent();
      old.dispose();
    }
    scene.add(mesh);
  }
}

function lookOf({ geometry, material }: InstancedMesh<BufferGeometry, MeshStandardMaterial>): string {
  return [material.transparent, material.alphaTest, material.map?.name ?? '', geometry.hasAttribute('normal')].join();
}

/** The matrix from an object's own frame to that of the scene above it. */
function frameIn(scene: Object3D, object: Object3D): Matrix4 {
  const matrix = new Matrix4();
  for (let at: Object3D | null = object; at && at !== scene; at = at.parent) {
    at.updateMatrix();
    matrix.premultiply(at.matrix);
  }
  return matrix;
}

function drawnOut(meshes: InstancedMesh[]): BufferGeometry {
  let vertices = 0;
  let corners = 0;
  for (const { geometry, count } of meshes) {
    plainAttributes(geometry);
    vertices += geometry.getAttribute('position').count * count;
    corners += geometry.index!.count * count;
  }
  const { geometry: sample } = meshes[0]!;
  const positions = new Float32Array(vertices * 3);
  const elements = new Float32Array(vertices);
  const colors = new Uint16Array(vertices * 4);
  const normals = sample.hasAttribute('normal') ? new Int8Array(vertices * 3) : null;
  const uvs = sample.hasAttribute('uv') ? new Float32Array(vertices * 2) : null;
  const indices = new Uint32Array(corners);
  let vertex = 0;
  let corner = 0;
  const place = new Matrix4();
  const turn = new Matrix3();
  const v = new Vector3();
  for (const { geometry, count, instanceMatrix } of meshes) {
    const from = geometry.getAttribute('position').array;
    const fromColors = geometry.getAttribute('color').array;
    const fromNormals = normals && geometry.getAttribute('normal').array;
    const own = from.length / 3;
    const elementOf = geometry.getAttribute(ELEMENT_OF_PLACE);
    const ownIndices = geometry.index!.array;
    for (let i = 0; i < count; i++) {
      place.fromArray(instanceMatrix.array, i * 16);
      turn.setFromMatrix4(place);
      for (let k = 0; k < own; k++) {
        v.set(from[k * 3]!, from[k * 3 + 1]!, from[k * 3 + 2]!)
          .applyMatrix4(place)
          .toArray(positions, (vertex + k) * 3);
        if (!normals || !fromNormals) continue;
        v.set(fromNormals[k * 3]!, fromNormals[k * 3 + 1]!, fromNormals[k * 3 + 2]!)
          .applyMatrix3(turn)
          .setLength(127)
          .round()
          .toArray(normals, (vertex + k) * 3);
      }
      elements.fill(elementOf.getX(i), vertex, vertex + own);
      colors.set(fromColors, vertex * 4);
      uvs?.set(geometry.getAttribute('uv').array, vertex * 2);
      for (let k = 0; k < ownIndices.length; k++) indices[corner + k] = ownIndices[k]! + vertex;
      corner += ownIndices.length;
      vertex += own;
    }
  }
  const out = new BufferGeometry();
  out.setAttribute('position', new BufferAttribute(positions, 3));
  out.setAttribute('_feature_id_0', new BufferAttribute(elements, 1));
  out.setAttribute('color', new BufferAttribute(colors, 4, true));
  if (normals) out.setAttribute('normal', new BufferAttribute(normals, 3, true));
  if (uvs) out.setAttribute('uv', new BufferAttribute(uvs, 2));
  out.setIndex(new BufferAttribute(indices, 1));
  return out;
}
