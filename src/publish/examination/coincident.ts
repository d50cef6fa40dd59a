import { ascendingRows } from '@/core/ascending-rows';
import type { BuildingModel, SurfaceMaterial } from '@/formats/building-model';
import type { Piece } from '../geometry/element-geometry';
import type { Check, Examined } from './examined';
import { largeFaces } from './large-faces';
import { isSamePlane, NEAR, SharedPlane, type Patience, type Plane } from './shared-plane';

/** So much of two elements, in square metres, has to lie in one another. */
const WORTH_A_WORD = 0.01;
/** Colours nearer than this look alike, so that it does not matter which of them shows. */
const SAME_COLOUR = 0.04;
/** Faces that are looked at; a model in which more lie in one place is not looked at to its end. */
const MOST_LOOKED_AT = 20_000_000;
const SLOTS = 2 ** 21;
/** Of a side where more than one look meets. */
const MIXED = -1;
/** Of a cell with faces from more than one layer; no layer itself, because layers are whole numbers. */
const MIXED_LAYERS = 0.5;

/** A plane in which an element's faces lie within another's, and how many others lie there with larger faces. */
export interface CoveredPlane extends Plane {
  depth: number;
}

export interface CoincidentCheck extends Check {
  /** By row, for the smaller of the elements that lie in one another. */
  planes: Map<number, CoveredPlane[]>;
}

/**
 * Elements with faces in the same place and of the same direction as those of another element, in another colour, where
 * nothing stands against them: the graphics card cannot tell which is in front. The one with the smaller face in the plane is named.
 */
export function findCoincident({ model, pieces }: Examined): CoincidentCheck {
  const looks = new Looks(model, pieces.flat());
  const found = new Map<string, { small: number; plane: Plane; area: number }>();
  for (const { plane, half } of planesWithMoreThanOneLook(looks)) {
    plane.eachPair((a, b) => {
      if (!plane.agree(a, b) || !looks.differ(plane.lookOf(a), plane.lookOf(b))) return;
      // Those were together in the first division already.
      if (half > 0 && layer(plane.along(a), 0) === layer(plane.along(b), 0)) return;
      const area = plane.openOverlap(a, b);
      if (area === 0) return;
      const [small, large] = bySize(plane.elementOf(a), plane.elementOf(b), (element) => plane.areaOf(element));
      const key = `${small}/${large}`;
      const known = found.get(key);
      if (known) known.area += area;
      else found.set(key, { small, plane: plane.planeOf(a), area });
    });
  }
  const worth = [...found.values()].filter(({ area }) => area >= WORTH_A_WORD);
  const planes = new Map<number, CoveredPlane[]>();
  for (const { small, plane } of worth) {
    const known = planes.get(small) ?? [];
    const same = known.find((one) => isSamePlane(one, plane));
    if (same) same.depth++;
    else known.push({ ...plane, depth: 1 });
    planes.set(small, known);
  }
  const area = worth.reduce((sum, one) => sum + one.area, 0);
  return {
    rows: [...planes.keys()].sort((a, b) => a - b),
    planes,
    detail: `${area < 10 ? area.toFixed(1) : Math.round(area)} m² lie exactly in faces of other elements, so that both flicker through each other.`,
  };
}

/** What pieces look like, in numbers. */
class Looks {
  /** By piece. */
  readonly numbers: number[];
  private readonly kinds: SurfaceMaterial[] = [];

  constructor(
    model: BuildingModel,
    readonly pieces: Piece[],
  ) {
    const known = new Map<string, number>();
    this.numbers = pieces.map(({ material }) => {
      const surface = model.materials[material]!;
      const key = `${surface.color.join()}/${surface.texture}`;
      if (!known.has(key)) known.set(key, this.kinds.push(surface) - 1);
      return known.get(key)!;
    });
  }

  get count(): number {
    return this.kinds.length;
  }

  /** Whether one sees which of two it is. */
  differ(a: number, b: number): boolean {
    const [one, other] = [this.kinds[a]!, this.kinds[b]!];
    return one.texture !== other.texture || one.color.some((part, i) => Math.abs(part - other.color[i]!) > SAME_COLOUR);
  }
}

/** Planes of faces, on either side, in which more than one look meets. */
function* planesWithMoreThanOneLook({
  pieces,
  numbers: looks,
  count,
}: Looks): Generator<{ plane: SharedPlane; half: number }> {
  if (count < 2) return;
  const all = largeFaces(pieces, looks);
  const { look, directions, distances, sides } = all;
  const patience: Patience = { faces: MOST_LOOKED_AT };
  const cells = new Uint32Array(look.length);
  const mixed = new Uint32Array(look.length);
  const lookIn = new Int32Array(SLOTS * 2);
  const layerIn = new Float64Array(SLOTS);
  // Planes that rounding parts in one division of space are together in the other.
  for (const half of [0, 0.5]) {
    // First only on which sides of which cells looks meet, so that fine models are not held face by face.
    lookIn.fill(0);
    layerIn.fill(Infinity);
    for (let face = 0; face < look.length; face++) {
      const cell = cellOf(directions[face]!, layer(distances[face]!, half));
      cells[face] = cell;
      const slot = cell & (SLOTS - 1);
      const side = slot * 2 + (sides[face]! > 0 ? 1 : 0);
      const own = look[face]! + 1;
      lookIn[side] = lookIn[side] === 0 || lookIn[side] === own ? own : MIXED;
      if (half === 0) continue;
      const first = layer(distances[face]!, 0);
      layerIn[slot] = layerIn[slot] === Infinity || layerIn[slot] === first ? first : MIXED_LAYERS;
    }
    let count = 0;
    for (let face = 0; face < look.length; face++) {
      const slot = cells[face]! & (SLOTS - 1);
      if (lookIn[slot * 2] !== MIXED && lookIn[slot * 2 + 1] !== MIXED) continue;
      // What was together in the first division has been looked at.
      if (half > 0 && layerIn[slot] !== MIXED_LAYERS) continue;
      mixed[count++] = face;
    }
    for (const members of byCell(mixed.subarray(0, count), cells))
      yield { plane: new SharedPlane(all, members, patience), half };
  }
}

/** Faces of one cell each. @param cells by face */
function* byCell(faces: Uint32Array, cells: Uint32Array): Generator<Uint32Array> {
  const sorted = ascendingRows(faces.map((face) => cells[face]!)).map((row) => faces[row]!);
  let start = 0;
  for (let i = 1; i <= sorted.length; i++) {
    if (i < sorted.length && cells[sorted[i]!] === cells[sorted[start]!]) continue;
    yield sorted.subarray(start, i);
    start = i;
  }
}

/** A number of 32 bits for a plane. */
function cellOf(direction: number, layerOf: number): number {
  const hash = Math.imul(direction ^ layerOf, 0xc2b2ae35);
  return (hash ^ (hash >>> 16)) >>> 0;
}

/** Space is divided along the normal into layers of twice the distance that flickers. */
function layer(distance: number, half: number): number {
  return Math.floor(distance / (2 * NEAR) + half);
}

/** The smaller face first; of two that are alike the later element, so that the order never hangs on chance. */
function bySize(a: number, b: number, areaOf: (element: number) => number): [small: number, large: number] {
  const [sizeA, sizeB] = [areaOf(a), areaOf(b)];
  if (Math.abs(sizeA - sizeB) > 1e-6 * Math.max(sizeA, sizeB)) return sizeA < sizeB ? [a, b] : [b, a];
  return a > b ? [a, b] : [b, a];
}
