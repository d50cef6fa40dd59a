import { BufferAttribute, Mesh, type BufferGeometry, type Material, type Object3D } from 'three';
import { vertexNormals } from '@/core/mesh/vertex-normals';
import { plainAttributes } from './plain-attributes';

/**
 * Gives curved surfaces of a loaded tile the normals that did not travel because they follow from the shape.
 *
 * @param scene of a tile, before it is drawn out
 */
export function deriveNormals(scene: Object3D): void {
  scene.traverse((object) => {
    if (!(object instanceof Mesh)) return;
    const { geometry, material } = object as Mesh<BufferGeometry, Material>;
    if (material.userData.curved !== true || geometry.hasAttribute('normal')) return;
    plainAttributes(geometry);
    const normals = vertexNormals(geometry.getAttribute('position').array, geometry.index!.array);
    geometry.setAttribute('normal', new BufferAttribute(normals, 3, true));
  });
}
