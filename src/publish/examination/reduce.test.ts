import { SphereGeometry } from 'three';
import { expect, it } from 'vitest';
import { placeGeometry } from '../geometry/element-geometry';
import { findShares } from '../geometry/shares';
import { meshModel, moved } from '../test-model';
import { examine } from './examine';
import { mend } from './mend';
import { reduce } from './reduce';

/** A door knob of 4 cm in 16 000 triangles, twice, the second turned by a quarter and moved; and a ball of ten metres. */
function knobs() {
  const knob = new SphereGeometry(0.02, 100, 81);
  const model = meshModel(knob.getAttribute('position').array, knob.index!.array, [
    moved(0, 0, 1),
    [0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 3, 0, 1, 1],
    [250, 0, 0, 0, 0, 250, 0, 0, 0, 0, 250, 0, 10, 10, 5, 1],
  ]);
  model.elements.material = ['Brass', 'Brass', 'Stone'];
  return { model, geometry: placeGeometry(model), triangles: knob.index!.count / 3 };
}
const CENTRES = [
  [0, 0, 1],
  [3, 0, 1],
];

it('makes simpler by no more than the error that it tells, and a curved thing looks as curved', async () => {
  const { geometry, triangles } = knobs();
  const fine = geometry.pieces.slice(0, 2);
  const { pieces, before, after, error, tried, shapes } = await reduce(fine);
  expect([before, tried, shapes]).toEqual([triangles * 2, 1, 1]);
  expect(after).toBe(pieces[0]!.indices.length / 3 + pieces[1]!.indices.length / 3);
  expect(after).toBeLessThan(before / 10);
  expect(error).toBeLessThanOrEqual((0.04 * Math.sqrt(3)) / 250);
  expect(error).toBeGreaterThan(0);
  pieces.forEach(({ positions: p, normals, indices }, i) => {
    const centre = CENTRES[i]!;
    const from = (vertices: number[]) =>
      Math.hypot(
        ...[0, 1, 2].map(
          (axis) => vertices.reduce((sum, v) => sum + p[v * 3 + axis]!, 0) / vertices.length - centre[axis]!,
        ),
      );
    for (let at = 0; at < indices.length; at += 3) {
      const face = [...indices.slice(at, at + 3)];
      expect(from(face)).toBeGreaterThan(0.02 - error - 2e-5); // its middle lies within the ball
      for (const vertex of face) {
        expect(from([vertex])).toBeCloseTo(0.02, 4);
        const outwards = [0, 1, 2].reduce(
          (sum, axis) => sum + ((normals![vertex * 3 + axis]! / 127) * (p[vertex * 3 + axis]! - centre[axis]!)) / 0.02,
          0,
        );
        expect(outwards).toBeGreaterThan(0.98);
      }
    }
  });
  expect(new Set(findShares(pieces).map((share) => share?.shape)), 'both are of one shape still').toEqual(new Set([0]));
});

it('tries the largest of what there is room for, and leaves the rest as it was', async () => {
  const { geometry } = knobs();
  const { pieces, tried, shapes } = await reduce(geometry.pieces, 100);
  expect([tried, shapes]).toEqual([0, 2]);
  expect(pieces).toEqual(geometry.pieces);
});

it('leaves what has few triangles as it is', async () => {
  const one = meshModel([0, 0, 0, 1, 0, 0, 0, 1, 0], [0, 1, 2], [moved(0, 0, 0)]);
  const { pieces } = placeGeometry(one);
  expect((await reduce(pieces)).pieces[0]).toBe(pieces[0]);
});

it('is offered with what would come of it, and done to what is too fine and nothing else', async () => {
  const { model, geometry, triangles } = knobs();
  const examination = await examine(model, geometry);
  const found = examination.findings.find(({ kind }) => kind === 'too-fine')!;
  expect(found.elements).toEqual(['guid-0', 'guid-1']);
  expect(found.detail).toMatch(
    /^67 % of the model’s triangles\. [\d\u202f]+ triangles instead of 32\u202f000 .* off by 0\.\d mm at most\.$/u,
  );
  const result = await mend(model, geometry, examination, ['too-fine']);
  const [one, other, large] = result.geometry.pieces;
  expect(large).toBe(geometry.pieces[2]);
  expect(one!.indices.length).toBe(other!.indices.length);
  expect(result.mended).toEqual([
    {
      kind: 'too-fine',
      count: 2,
      reduced: { before: triangles * 2, after: (one!.indices.length / 3) * 2, error: expect.any(Number) as number },
    },
  ]);
  expect(geometry.pieces[0]!.indices.length / 3, 'what was given stays').toBe(triangles);
});
