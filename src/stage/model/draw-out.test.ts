import {
  BufferAttribute,
  BufferGeometry,
  Group,
  InstancedBufferAttribute,
  InstancedMesh,
  Matrix4,
  Mesh,
  MeshStandardMaterial,
  Quaternion,
  Vector3,
} from 'three';
import { expect, it } from 'vitest';
import { drawOut } from './draw-out';

/** A triangle of uint16 steps with a colour, as the loader gives it, in two places. */
function repeated(elements: number[], places: Matrix4[], material = new MeshStandardMaterial()): InstancedMesh {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Uint16Array.from([0, 0, 0, 10, 0, 0, 0, 20, 0]), 3));
  geometry.setAttribute('color', new BufferAttribute(new Uint16Array(12).fill(65535), 4, true));
  geometry.setAttribute('normal', new BufferAttribute(Int8Array.from([0, 0, 127, 0, 0, 127, 0, 0, 127]), 3, true));
  geometry.setAttribute('_FEATURE_ID_0', new InstancedBufferAttribute(Float32Array.from(elements), 1));
  geometry.setIndex(new BufferAttribute(Uint16Array.from([0, 1, 2]), 1));
  const mesh = new InstancedMesh(geometry, material, places.length);
  places.forEach((place, i) => mesh.setMatrixAt(i, place));
  return mesh;
}

const moved = (x: number, turn = 0, scale = 1) =>
  new Matrix4().compose(
    new Vector3(x, 0, 0),
    new Quaternion().setFromAxisAngle(new Vector3(0, 1, 0), turn),
    new Vector3(scale, scale, scale),
  );

it('draws every place with its element, in the frame of the tile, as one mesh for a look', () => {
  const scene = new Group();
  const node = new Group();
  node.position.set(1, 2, 3);
  node.scale.setScalar(0.5);
  const both = repeated([7, 9], [moved(100), moved(200, Math.PI / 2, 0.25)]);
  const third = repeated([70_000], [moved(0)]);
  third.position.set(1, 2, 3);
  third.scale.setScalar(0.5);
  const glass = repeated([4], [moved(0)], new MeshStandardMaterial({ transparent: true }));
  node.add(both);
  const plain = new Mesh(new BufferGeometry(), new MeshStandardMaterial());
  scene.add(node, third, glass, plain);
  drawOut(scene);

  const meshes: Mesh[] = [];
  scene.traverse((object) => object instanceof Mesh && meshes.push(object));
  expect(meshes.some((mesh) => mesh instanceof InstancedMesh)).toBe(false);
  expect(meshes).toHaveLength(3); // solid, glass, and what stood there before
  const solid = meshes.find((mesh) => mesh.geometry.getAttribute('_feature_id_0')?.count === 9)!;
  expect([...solid.geometry.getAttribute('_feature_id_0').array]).toEqual([7, 7, 7, 9, 9, 9, 70_000, 70_000, 70_000]);
  expect([...solid.geometry.index!.array]).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8]);
  expect([solid.position.toArray(), solid.scale.toArray()]).toEqual([
    [1, 2, 3],
    [0.5, 0.5, 0.5],
  ]);
  const position = solid.geometry.getAttribute('position');
  // The second place: a quarter of the size, its x axis turned to -z.
  [200, 0, -2.5].forEach((value, i) => expect(position.array[4 * 3 + i]).toBeCloseTo(value, 5));
  [200, 5, 0].forEach((value, i) => expect(position.array[5 * 3 + i]).toBeCloseTo(value, 5));
  expect([...solid.geometry.getAttribute('normal').array.slice(9, 12)]).toEqual([127, 0, 0]);
});
