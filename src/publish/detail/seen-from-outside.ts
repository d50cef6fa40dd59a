import type { Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import type { Piece } from '../geometry/element-geometry';
import type { Surface } from '../pictures/pictures';
import { Raster, viewFrom } from '../preview/raster';

const SIDE = 192;

/** Around the horizon, from above at a slant, and straight down. */
const DIRECTIONS: Vec3[] = [...ring(8, 0.25), ...ring(4, 1.1), [0, 0, 1]];

function ring(count: number, height: number): Vec3[] {
  return Array.from({ length: count }, (_, i) => {
    const angle = ((i + 0.4) / count) * 2 * Math.PI;
    return [Math.cos(angle), Math.sin(angle), height];
  });
}

/**
 * How much of every piece is seen from around the whole, as pixels over all views. What lies behind glass counts as
 * seen, and the glass too.
 */
export function seenFromOutside(pieces: Piece[], surfaces: Surface[], extent: Box3): Uint32Array {
  const seen = new Uint32Array(pieces.length);
  for (const direction of DIRECTIONS) {
    const raster = new Raster(viewFrom(extent, direction), SIDE, SIDE);
    const depth = new Float32Array(SIDE * SIDE).fill(Infinity);
    const nearest = new Int32Array(SIDE * SIDE).fill(-1);
    for (const solid of [true, false]) {
      pieces.forEach((piece, number) => {
        if (surfaces[piece.material]!.color[3] >= 0.999 !== solid) return;
        const at = raster.project(piece.positions);
        for (let i = 0; i + 2 < piece.indices.length; i += 3)
          raster.fill(at, piece.indices[i]!, piece.indices[i + 1]!, piece.indices[i + 2]!, (pixel, ahead) => {
            if (ahead >= depth[pixel]!) return;
            if (!solid) {
              seen[number]!++;
              return;
            }
            depth[pixel] = ahead;
            nearest[pixel] = number;
          });
      });
    }
    for (const number of nearest) if (number >= 0) seen[number]!++;
  }
  return seen;
}
