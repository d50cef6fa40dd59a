import type { Vec3 } from '../math/mat4';
import type { TriangleMesh } from './crossing';

/** Solids whose sections and volumes are known, outward faces against the clock. Every face has vertices of its own. */

/** A solid with a convex base in the XY plane, given against the clock, and upright sides. */
export function prism(base: readonly [number, number][], bottom: number, top: number): TriangleMesh {
  const triangles: Vec3[] = [];
  base.forEach(([x, y], i) => {
    const [nextX, nextY] = base[(i + 1) % base.length]!;
    triangles.push([x, y, bottom], [nextX, nextY, bottom], [nextX, nextY, top]);
    triangles.push([x, y, bottom], [nextX, nextY, top], [x, y, top]);
    if (i < 1 || i > base.length - 2) return;
    const [[firstX, firstY]] = base as [[number, number]];
    triangles.push([firstX, firstY, top], [x, y, top], [nextX, nextY, top]);
    triangles.push([firstX, firstY, bottom], [nextX, nextY, bottom], [x, y, bottom]);
  });
  return soup(triangles);
}

export function box(min: Vec3, max: Vec3): TriangleMesh {
  const [x0, y0, z0] = min;
  const [x1, y1, z1] = max;
  return prism(
    [
      [x0, y0],
      [x1, y0],
      [x1, y1],
      [x0, y1],
    ],
    z0,
    z1,
  );
}

/** An outline with square openings, all made of squares of a grid of one metre: filled where `isSolid`. */
export function cells(
  width: number,
  depth: number,
  height: number,
  isSolid: (x: number, y: number) => boolean,
): TriangleMesh {
  const triangles: Vec3[] = [];
  const quad = (a: Vec3, b: Vec3, c: Vec3, d: Vec3) => triangles.push(a, b, c, a, c, d);
  const solid = (x: number, y: number) => x >= 0 && y >= 0 && x < width && y < depth && isSolid(x, y);
  for (let x = 0; x < width; x++)
    for (let y = 0; y < depth; y++) {
      if (!solid(x, y)) continue;
      const at = (dx: number, dy: number, z: number): Vec3 => [x + dx, y + dy, z];
      quad(at(0, 0, height), at(1, 0, height), at(1, 1, height), at(0, 1, height));
      quad(at(0, 0, 0), at(0, 1, 0), at(1, 1, 0), at(1, 0, 0));
      if (!solid(x, y - 1)) quad(at(0, 0, 0), at(1, 0, 0), at(1, 0, height), at(0, 0, height));
      if (!solid(x + 1, y)) quad(at(1, 0, 0), at(1, 1, 0), at(1, 1, height), at(1, 0, height));
      if (!solid(x, y + 1)) quad(at(1, 1, 0), at(0, 1, 0), at(0, 1, height), at(1, 1, height));
      if (!solid(x - 1, y)) quad(at(0, 1, 0), at(0, 0, 0), at(0, 0, height), at(0, 1, height));
    }
  return soup(triangles);
}

/** A cylinder with upright sides of flat faces. */
export function cylinder(radius: number, height: number, sides: number): TriangleMesh {
  const at = (i: number): [number, number] => {
    const turn = (i * 2 * Math.PI) / sides;
    return [radius * Math.cos(turn), radius * Math.sin(turn)];
  };
  return prism(
    Array.from({ length: sides }, (_, i) => at(i)),
    0,
    height,
  );
}

/** A sphere of flat faces about a point. */
export function sphere(radius: number, rings: number, at: Vec3 = [0, 0, 0]): TriangleMesh {
  const triangles: Vec3[] = [];
  const place = (ring: number, step: number): Vec3 => {
    const [polar, turn] = [(ring * Math.PI) / rings, (step * Math.PI) / rings];
    const spread = ring === 0 || ring === rings ? 0 : Math.sin(polar);
    return [
      at[0] + radius * spread * Math.cos(turn),
      at[1] + radius * spread * Math.sin(turn),
      at[2] + radius * Math.cos(polar),
    ];
  };
  for (let ring = 0; ring < rings; ring++)
    for (let step = 0; step < 2 * rings; step++) {
      const next = (step + 1) % (2 * rings);
      const [a, b, c, d] = [place(ring, step), place(ring + 1, step), place(ring + 1, next), place(ring, next)];
      if (ring < rings - 1) triangles.push(a, b, c);
      if (ring > 0) triangles.push(a, c, d);
    }
  return soup(triangles);
}

/** The same solid turned inside out. */
export function inverted({ positions, indices }: TriangleMesh): TriangleMesh {
  return { positions, indices: Uint32Array.from(indices).reverse() };
}

/** The same solid elsewhere. */
export function mapped({ positions, indices }: TriangleMesh, map: (point: Vec3) => Vec3): TriangleMesh {
  const out = new Float64Array(positions.length);
  for (let at = 0; at < out.length; at += 3) out.set(map([positions[at]!, positions[at + 1]!, positions[at + 2]!]), at);
  return { positions: out, indices };
}

/** Volume by the divergence theorem: a sixth of the sum of all triangles' determinants. */
export function volume({ positions, indices }: TriangleMesh): number {
  let sum = 0;
  for (let at = 0; at < indices.length; at += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => [...positions.slice(indices[at + k]! * 3, indices[at + k]! * 3 + 3)]);
    const [ax, ay, az] = a as Vec3;
    const [bx, by, bz] = b as Vec3;
    const [cx, cy, cz] = c as Vec3;
    sum += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
  }
  return sum / 6;
}

/** Triangles that share no vertices, as files often hold them. */
export function soup(corners: readonly Vec3[]): TriangleMesh {
  return { positions: Float64Array.from(corners.flat()), indices: Uint32Array.from(corners.keys()) };
}
