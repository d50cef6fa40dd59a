import type { Vec3 } from '@/core/math/mat4';
import type { Body } from '../ifc/ifc-builder';
import { token } from '../ifc/step-writer';
import type { ArchitectureModel } from './architecture';
import { COURT, rectangle, seededRandom } from './plan';

/** Ground, paths, meadow, benches and trees, in the court and around the house. */
export function plantGrounds(model: ArchitectureModel): void {
  const { ifc, paint, revision } = model;
  const site = ifc.grounds;
  const surface = (key: string, name: string, body: Body) =>
    ifc.product('IFCGEOGRAPHICELEMENT', key, { name, bodies: [body], in: site, extra: [token('TERRAIN')] });
  surface('ground', 'Ground', ifc.extrude(paint.earth, rectangle(-14, -14, 62, 50), 0.3, [0, 0, -0.65]));
  surface('meadow/south', 'Meadow', ifc.extrude(paint.grass, rectangle(-12, -12, 18, -3), 0.06, [0, 0, -0.35]));
  surface('meadow/east', 'Meadow', ifc.extrude(paint.grass, rectangle(51, -3, 60, 46), 0.06, [0, 0, -0.35]));
  surface(
    'path/entrance',
    'Entrance path',
    ifc.extrude(paint.paving, rectangle(18.5, -14, 23.5, 0), 0.33, [0, 0, -0.35]),
  );
  surface(
    'court/meadow',
    'Court meadow',
    ifc.extrude(paint.grass, rectangle(COURT.x0, COURT.y0, COURT.x1, COURT.y1), 0.3, [0, 0, -0.35]),
  );
  surface(
    'court/path',
    'Court path',
    ifc.extrude(paint.paving, rectangle(COURT.x0, 16.6, COURT.x1, 19.4), 0.06, [0, 0, -0.05]),
  );
  surface(
    'court/terrace',
    'Reading terrace',
    ifc.extrude(paint.paving, rectangle(26.5, COURT.y0, COURT.x1, COURT.y1), 0.05, [0, 0, -0.05]),
  );

  for (let i = 1; i <= (revision === 1 ? 2 : 3); i++) {
    ifc.product('IFCFURNITURE', `bench/court-${i}`, {
      name: 'Court bench',
      at: [14 + i * 2.8, i === 3 && revision >= 3 ? 20.2 : 15.4, 0],
      bodies: [
        ifc.box(paint.oak, [0, 0, 0.4], [2, 0.5, 0.06]),
        ifc.box(paint.concrete, [0.2, 0.05, -0.05], [0.15, 0.4, 0.45]),
        ifc.box(paint.concrete, [1.65, 0.05, -0.05], [0.15, 0.4, 0.45]),
      ],
      in: site,
      extra: [token('USERDEFINED')],
    });
  }
  const trees: [string, number, number, number][] = [
    ['court-1', 15, 13, 1.5],
    ['court-2', 21, 12.4, 1.8],
    ['court-3', 16.5, 22.8, 1.9],
    ['court-4', 25, 21.6, 1.6],
    ['south-1', -6, -7, 2.4],
    ['south-2', 3, -8, 2.0],
    ['south-3', 12, -7, 2.6],
    ['south-4', 33, -8, 2.2],
    ['east-1', 55, 4, 2.5],
    ['east-2', 56, 15, 2.1],
    ['east-3', 54.5, 27, 2.7],
    ['east-4', 56, 39, 2.2],
    ['west-1', -8, 20, 2.3],
    ['west-2', -8, 31, 2.6],
  ];
  for (const [key, x, y, radius] of trees) {
    if (key === 'court-4' && revision >= 2) continue;
    const trunk = radius * 1.1;
    ifc.product('IFCGEOGRAPHICELEMENT', `tree/${key}`, {
      name: 'Tree',
      at: [x, y, -0.3],
      bodies: [crown(model, key, radius, trunk + radius * 0.75)],
      in: site,
      extra: [token('USERDEFINED')],
    });
    ifc.product('IFCGEOGRAPHICELEMENT', `trunk/${key}`, {
      name: 'Tree trunk',
      at: [x, y, -0.3],
      bodies: [ifc.cylinder(paint.bark, 0.12, trunk + 0.3, [0, 0, 0])],
      in: site,
      extra: [token('USERDEFINED')],
    });
  }
}

/** An icosahedron divided once and pushed in and out so little that it stays round. */
function crown({ ifc, paint }: ArchitectureModel, key: string, radius: number, height: number): Body {
  const random = seededRandom([...key].reduce((sum, letter) => sum * 31 + letter.charCodeAt(0), 7));
  const phi = (1 + Math.sqrt(5)) / 2;
  const points: Vec3[] = [];
  for (const [a, b] of [
    [-1, phi],
    [1, phi],
    [-1, -phi],
    [1, -phi],
  ] as const)
    points.push([a, b, 0], [0, a, b], [b, 0, a]);
  let triangles = hull(points);
  const middle = new Map<string, number>();
  const split = (i: number, j: number): number => {
    const id = i < j ? `${i},${j}` : `${j},${i}`;
    let index = middle.get(id);
    if (index === undefined) {
      index = points.push([0, 1, 2].map((axis) => (points[i]![axis]! + points[j]![axis]!) / 2) as Vec3) - 1;
      middle.set(id, index);
    }
    return index;
  };
  triangles = triangles.flatMap(([a, b, c]) => {
    const [ab, bc, ca] = [split(a, b), split(b, c), split(c, a)];
    return [
      [a, ab, ca],
      [b, bc, ab],
      [c, ca, bc],
      [ab, bc, ca],
    ] as [number, number, number][];
  });
  const shaped = points.map((point): Vec3 => {
    const scale = (radius * (0.97 + 0.06 * random())) / Math.hypot(...point);
    return [point[0] * scale, point[1] * scale, height + point[2] * scale * 1.1];
  });
  return ifc.mesh(paint.leaves, shaped, triangles);
}

/** Faces of the icosahedron: the triples of points at edge length 2 from each other, wound outwards. */
function hull(points: Vec3[]): [number, number, number][] {
  const near = (i: number, j: number) =>
    Math.abs(
      Math.hypot(points[i]![0] - points[j]![0], points[i]![1] - points[j]![1], points[i]![2] - points[j]![2]) - 2,
    ) < 1e-6;
  const out: [number, number, number][] = [];
  for (let i = 0; i < 12; i++)
    for (let j = i + 1; j < 12; j++)
      for (let k = j + 1; k < 12; k++) {
        if (!near(i, j) || !near(j, k) || !near(i, k)) continue;
        const [a, b, c] = [points[i]!, points[j]!, points[k]!];
        const volume =
          a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
        out.push(volume > 0 ? [i, j, k] : [i, k, j]);
      }
  return out;
}
