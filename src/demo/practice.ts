import type { Vec3 } from '@/core/math/mat4';
import type { Body } from './ifc/ifc-builder';
import { token } from '@/core/step/step-writer';
import { architectureModel, type ArchitectureModel } from './library/architecture';
import { seededRandom } from './library/plan';

/** Pieces of each kind, no two of one shape. */
const PIECES = 24;
/** Metres between them. */
const APART = 1.5;

/**
 * A model to publish for practice, as IFC text: the library, and beside it what real exports hold and it does not, finely
 * turned and bent pieces, flat sides in many facets, walls with openings of all sizes.
 */
export function practiceIfc(): string {
  const model = architectureModel(1);
  const random = seededRandom(11);
  for (let i = 0; i < PIECES; i++) {
    const place = (row: number): Vec3 => [i * APART, -20 - row * APART, 0];
    put(model, `turned/${i}`, place(0), turned(model, random));
    put(model, `bent/${i}`, place(1), bent(model, random));
    put(model, `ribbed/${i}`, place(2), ribbed(model, random));
    addWall(model, i, place(4), random);
  }
  return model.ifc.finish('practice.ifc');
}

function put({ ifc, storeys }: ArchitectureModel, key: string, at: Vec3, body: Body): void {
  ifc.product('IFCFURNITURE', `practice/${key}`, {
    name: 'Piece',
    at,
    bodies: [body],
    in: storeys[0],
    facts: { Practice: { Key: key } },
    extra: [token('USERDEFINED')],
  });
}

/** A baluster: a wavy line turned about an upright axis. */
function turned({ ifc, paint }: ArchitectureModel, random: () => number): Body {
  const [radius, waves] = [0.1 + 0.2 * random(), 1 + 3 * random()];
  const ring = (at: number, k: number): Vec3 => {
    const angle = (k / 20) * 2 * Math.PI;
    const reach = radius * (1.2 + Math.sin(at * waves * 6));
    return [reach * Math.cos(angle), reach * Math.sin(angle), at * 1.2];
  };
  return loft(ifc, paint.oak, 14, 20, ring);
}

/** A pipe along an arc. */
function bent({ ifc, paint }: ArchitectureModel, random: () => number): Body {
  const [radius, reach] = [0.03 + 0.05 * random(), 0.3 + 0.4 * random()];
  const ring = (at: number, k: number): Vec3 => {
    const angle = (k / 12) * 2 * Math.PI;
    const [out, turn] = [reach + radius * Math.cos(angle), at * Math.PI];
    return [out * Math.cos(turn), radius * Math.sin(angle), 1 + out * Math.sin(turn)];
  };
  return loft(ifc, paint.bark, 24, 12, ring);
}

/** A post whose flat sides are divided into facets, with a groove. */
function ribbed({ ifc, paint }: ArchitectureModel, random: () => number): Body {
  const [wide, deep] = [0.1 + 0.3 * random(), 0.02 + 0.04 * random()];
  const outline: [number, number][] = [];
  for (let i = 0; i < 4; i++)
    for (const [along, inwards] of [
      [-1, 0],
      [-0.5, 0],
      [-0.3, deep],
      [0.3, deep],
      [0.5, 0],
    ] as const) {
      const [x, y] = [wide * along, -wide + inwards];
      const [cos, sin] = [Math.round(Math.cos((i * Math.PI) / 2)), Math.round(Math.sin((i * Math.PI) / 2))];
      outline.push([x * cos - y * sin, x * sin + y * cos]);
    }
  const ring = (at: number, k: number): Vec3 => {
    const [x, y] = outline[k]!;
    return [x, y, at * 1.4];
  };
  return loft(ifc, paint.concrete, 8, outline.length, ring);
}

/**
 * Rings of points, each joined with the next by quadrangles, closed at both ends.
 *
 * @param around points of a ring
 * @param ring place of one of them, at 0..1 along
 */
function loft(
  ifc: ArchitectureModel['ifc'],
  style: ArchitectureModel['paint']['oak'],
  rings: number,
  around: number,
  ring: (at: number, k: number) => Vec3,
): Body {
  const points: Vec3[] = [];
  for (let i = 0; i <= rings; i++) for (let k = 0; k < around; k++) points.push(ring(i / rings, k));
  const polygons: number[][] = [];
  for (let i = 0; i < rings; i++)
    for (let k = 0; k < around; k++) {
      const next = (k + 1) % around;
      polygons.push([i * around + k, i * around + next, (i + 1) * around + next, (i + 1) * around + k]);
    }
  const end = Array.from({ length: around }, (_, k) => k);
  polygons.push(
    [...end].reverse(),
    end.map((k) => rings * around + k),
  );
  return ifc.brep(style, points, polygons);
}

function addWall({ ifc, paint, storeys }: ArchitectureModel, i: number, at: Vec3, random: () => number): void {
  const size: Vec3 = [1.2, 0.2 + 0.1 * random(), 2.4 + random()];
  const wall = ifc.product('IFCWALL', `practice/wall/${i}`, {
    name: 'Wall',
    at,
    bodies: [ifc.box(paint.concrete, [0, 0, 0], size)],
    in: storeys[0],
    extra: [token('SOLIDWALL')],
  });
  const hole: Vec3 = [0.3 + 0.4 * random(), 1, 0.5 + random()];
  ifc.opening(`practice/opening/${i}`, wall, storeys[0], ifc.box(paint.concrete, [0, -0.5, 0], hole), [
    at[0] + 0.2,
    at[1],
    at[2] + 0.6,
  ]);
}
