import {
  BufferAttribute,
  BufferGeometry,
  Group,
  InterleavedBuffer,
  InterleavedBufferAttribute,
  Mesh,
  MeshStandardMaterial,
} from 'three';
import { expect, it } from 'vitest';
import { deriveNormals } from './derive-normals';

/** An upright triangle of uint16 steps, interleaved with a fourth unused one as the loader gives it. */
function triangle(curved: boolean, normals?: Int8Array): Mesh {
  const geometry = new BufferGeometry();
  const rows = new InterleavedBuffer(Uint16Array.from([0, 0, 0, 0, 10, 0, 0, 0, 0, 10, 0, 0]), 4);
  geometry.setAttribute('position', new InterleavedBufferAttribute(rows, 3, 0));
  if (normals) geometry.setAttribute('normal', new BufferAttribute(normals, 3, true));
  geometry.setIndex([0, 1, 2]);
  const material = new MeshStandardMaterial();
  if (curved) material.userData.curved = true;
  return new Mesh(geometry, material);
}

it('gives normals to what is curved and came without', () => {
  const sent = Int8Array.from([0, 127, 0, 0, 127, 0, 0, 127, 0]);
  const meshes = [triangle(true), triangle(true, sent), triangle(false)];
  deriveNormals(new Group().add(...meshes));
  const [derived, kept, flat] = meshes.map(({ geometry }) => geometry.getAttribute('normal'));
  expect([...derived!.array]).toEqual([0, 0, 127, 0, 0, 127, 0, 0, 127]);
  expect(derived!.normalized).toBe(true);
  expect(kept!.array).toBe(sent);
  expect(flat).toBeUndefined();
});
