import { CapsuleGeometry, Group, Mesh, MeshStandardMaterial, SphereGeometry } from 'three';

const HEIGHT = 1.7;
const HEAD = 0.23;

/** A plain figure of a person, 1.70 m tall, standing on its own zero with Z up: for scale. */
export function person(): Group {
  const material = new MeshStandardMaterial({ color: '#34497F', roughness: 1 });
  const group = new Group();
  const shoulders = HEIGHT - HEAD * 1.02;
  const radius = 0.2;
  const body = new Mesh(new CapsuleGeometry(radius, shoulders - 2 * radius, 8, 20), material);
  body.rotation.x = Math.PI / 2;
  body.position.z = shoulders / 2;
  const head = new Mesh(new SphereGeometry(HEAD / 2, 20, 14), material);
  head.position.z = HEIGHT - HEAD / 2;
  group.add(body, head);
  return group;
}
