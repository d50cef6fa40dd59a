import type { Vec3 } from '@/core/math/mat4';
import type { Body, Point2 } from '../ifc/ifc-builder';
import { token } from '@/core/step/step-writer';
import type { ArchitectureModel } from './architecture';
import { COURT, rectangle, seededRandom } from './plan';

/** Ground, paths, meadow, benches and trees, in the court and around the house. */
export function plantGrounds(model: ArchitectureModel): void {
  const { ifc, paint, revision } = model;
  const site = ifc.grounds;
  const surface = (key: string, name: string, body: Body) =>
    ifc.product('IFCGEOGRAPHICELEMENT', key, { name, bodies: [body], in: site, extra: [token('TERRAIN')] });
  surface('ground', 'Ground', ifc.extrude(paint.earth, outlineAround(24, 18, 41, 35), 0.3, [0, 0, -0.42]));
  surface('meadow/south', 'Meadow', ifc.extrude(paint.grass, outlineAround(2.5, -7.6, 14.5, 5.2), 0.06, [0, 0, -0.12]));
  surface('meadow/east', 'Meadow', ifc.extrude(paint.grass, outlineAround(55.5, 21.5, 5, 24), 0.06, [0, 0, -0.12]));
  for (const [side, outline] of Object.entries(GRAVEL))
    surface(`gravel/${side}`, 'Gravel strip', ifc.extrude(paint.gravel, outline, 0.05, [0, 0, -0.12]));
  surface(
    'path/entrance',
    'Entrance path',
    ifc.extrude(paint.paving, rectangle(18.5, -15, 23.5, 0), 0.1, [0, 0, -0.12]),
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
  for (const [key, x, y, length] of BEDS) {
    surface(
      `bed/${key}`,
      'Planting bed',
      ifc.extrude(paint.earth, rectangle(x, y, x + length, y + 1.1), 0.08, [0, 0, -0.06]),
    );
    const random = seededRandom(x * 7 + y);
    ifc.product('IFCGEOGRAPHICELEMENT', `shrubs/${key}`, {
      name: 'Shrubs',
      at: [x, y, 0],
      bodies: Array.from({ length: Math.floor(length / 0.7) }, (_, i) =>
        clump(model, random, [0.4 + i * 0.7, 0.35 + random() * 0.4, 0.18], 0.26 + random() * 0.12, 1),
      ),
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
      at: [x, y, -0.1],
      bodies: crown(model, key, radius, trunk + radius * 0.75),
      in: site,
      extra: [token('USERDEFINED')],
    });
    ifc.product('IFCGEOGRAPHICELEMENT', `trunk/${key}`, {
      name: 'Tree trunk',
      at: [x, y, -0.1],
      bodies: branches(model, key, radius, trunk),
      in: site,
      extra: [token('USERDEFINED')],
    });
  }
}

/** A rounded outline, as grass ends where nobody drew a line. @param rx, ry half its extent */
function outlineAround(cx: number, cy: number, rx: number, ry: number): Point2[] {
  const CORNERS = 48;
  return Array.from({ length: CORNERS }, (_, i): Point2 => {
    const turn = (2 * Math.PI * i) / CORNERS;
    // A superellipse: nearly a rectangle, without its corners.
    const round = (value: number) => Math.sign(value) * Math.abs(value) ** 0.42;
    return [cx + rx * round(Math.cos(turn)), cy + ry * round(Math.sin(turn))];
  });
}

/** Along the facades, where rain runs off. */
const GRAVEL: Record<string, Point2[]> = {
  south: rectangle(-0.8, -0.8, 18.3, 0),
  'south-east': rectangle(23.7, -0.8, 48.8, 0),
  east: rectangle(48, 0, 48.8, 36),
  north: rectangle(-0.8, 36, 48.8, 36.8),
  west: rectangle(-0.8, 0, 0, 36),
};

/** Beds along the court's south and north facades: where they begin, and how long they are. */
const BEDS: readonly [key: string, x: number, y: number, length: number][] = [
  ['south-west', 12.8, 10.3, 4.9],
  ['south-east', 19.4, 10.3, 4.9],
  ['north-west', 12.8, 24.6, 4.2],
  ['north-east', 20.1, 24.6, 4.9],
];

function randomOf(key: string): () => number {
  return seededRandom([...key].reduce((sum, letter) => sum * 31 + letter.charCodeAt(0), 7));
}

/** A crown of clumps about a round middle, as a tree grows that has light from all sides. */
function crown(model: ArchitectureModel, key: string, radius: number, height: number): Body[] {
  const random = randomOf(key);
  const CLUMPS = 7;
  const around = Array.from({ length: CLUMPS }, (_, i): Body => {
    const turn = (2 * Math.PI * (i + random() * 0.6)) / CLUMPS;
    const away = radius * (0.5 + 0.12 * random());
    const lift = radius * (i % 2 === 0 ? 0.32 : -0.2) + radius * 0.15 * random();
    return clump(
      model,
      random,
      [Math.cos(turn) * away, Math.sin(turn) * away, height + lift],
      radius * (0.46 + 0.1 * random()),
      1,
    );
  });
  return [clump(model, random, [0, 0, height + radius * 0.2], radius * 0.74, 2), ...around];
}

/** Trunk and four branches that reach into the crown, each thinner at its end. */
function branches({ ifc, paint }: ArchitectureModel, key: string, radius: number, trunk: number): Body[] {
  const random = randomOf(`${key}/branches`);
  const thick = 0.06 + radius * 0.045;
  const fork: Vec3 = [0, 0, trunk * 0.72];
  const parts = [taperedRod([0, 0, 0], fork, thick, thick * 0.72)];
  for (let i = 0; i < 4; i++) {
    const turn = (Math.PI / 2) * (i + random() * 0.5);
    const out = radius * (0.34 + 0.12 * random());
    parts.push(
      taperedRod(fork, [Math.cos(turn) * out, Math.sin(turn) * out, trunk + radius * 0.35], thick * 0.55, 0.02),
    );
  }
  return parts.map(({ points, triangles }) => ifc.mesh(paint.bark, points, triangles));
}

type Mesh = { points: Vec3[]; triangles: [number, number, number][] };

/** A round rod between two points that lie above each other or nearly so. */
function taperedRod(from: Vec3, to: Vec3, thick: number, thin: number): Mesh {
  const SIDES = 8;
  const ring = ([x, y, z]: Vec3, radius: number) =>
    Array.from({ length: SIDES }, (_, i): Vec3 => {
      const turn = (2 * Math.PI * i) / SIDES;
      return [x + Math.cos(turn) * radius, y + Math.sin(turn) * radius, z];
    });
  const triangles: [number, number, number][] = [];
  for (let i = 0; i < SIDES; i++) {
    const next = (i + 1) % SIDES;
    triangles.push([i, next, SIDES + next], [i, SIDES + next, SIDES + i]);
    if (i > 0 && next > 0) triangles.push([0, next, i], [SIDES, SIDES + i, SIDES + next]);
  }
  return { points: [...ring(from, thick), ...ring(to, thin)], triangles };
}

/** A ball of leaves: an icosahedron divided so many times and pushed in and out a little. */
function clump(
  { ifc, paint }: ArchitectureModel,
  random: () => number,
  [cx, cy, cz]: Vec3,
  radius: number,
  divisions: number,
): Body {
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
  for (let division = 0; division < divisions; division++) triangles = divided(points, triangles);
  const shaped = points.map((point): Vec3 => {
    const scale = (radius * (0.94 + 0.12 * random())) / Math.hypot(...point);
    return [cx + point[0] * scale, cy + point[1] * scale, cz + point[2] * scale * 0.92];
  });
  return ifc.mesh(paint.leaves, shaped, triangles);
}

/** Every triangle as four; the new points lie in the middle of its edges. */
function divided(points: Vec3[], triangles: [number, number, number][]): [number, number, number][] {
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
  return triangles.flatMap(([a, b, c]) => {
    const [ab, bc, ca] = [split(a, b), split(b, c), split(c, a)];
    return [
      [a, ab, ca],
      [b, bc, ab],
      [c, ca, bc],
      [ab, bc, ca],
    ] as [number, number, number][];
  });
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
