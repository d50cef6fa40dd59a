import sharp from 'sharp';
import type { Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import { cross, dot, subtract, unit } from '@/core/math/vec3';
import type { Piece } from './element-geometry';
import type { Surface } from './pictures';
import { Raster, viewFrom, type RasterView } from './raster';

const PAPER: Vec3 = [0.957, 0.937, 0.902];
/** Towards the sun, in the revision's frame. */
const SUN = unit([-0.45, -0.7, 0.9]);
const OVERSAMPLE = 2;

/** A view of the whole from the south-east and above, for a picture of that width by height. */
export function overview(extent: Box3, aspect: number): RasterView {
  return viewFrom(extent, [0.62, -0.86, 0.62], aspect);
}

/**
 * Draws pieces into a PNG on the processor alone (depth buffer, one sun, soft sky), so that previews need no graphics
 * card and no browser. See-through surfaces are drawn as a tint, pictures as their mean colour.
 */
export async function renderPreview(
  pieces: Piece[],
  surfaces: Surface[],
  view: RasterView,
  width: number,
  height: number,
): Promise<Buffer> {
  const w = width * OVERSAMPLE;
  const h = height * OVERSAMPLE;
  const raster = new Raster(view, w, h);
  const depth = new Float32Array(w * h).fill(Infinity);
  const color = new Float32Array(w * h * 3);
  for (let i = 0; i < w * h; i++) color.set(PAPER, i * 3);
  for (const opaque of [true, false]) {
    for (const piece of pieces) {
      const [r, g, b, alpha] = surfaces[piece.material]!.plain;
      if (alpha >= 0.999 !== opaque || alpha < 0.15) continue;
      const at = raster.project(piece.positions);
      for (let t = 0; t + 2 < piece.indices.length; t += 3) {
        const [i, j, k] = [piece.indices[t]!, piece.indices[t + 1]!, piece.indices[t + 2]!];
        const [red, green, blue] = shade(piece, i, j, k, painted(piece, i) ?? [r, g, b], view.eye);
        raster.fill(at, i, j, k, (pixel, ahead) => {
          if (ahead >= depth[pixel]!) return;
          if (opaque) depth[pixel] = ahead;
          color[pixel * 3] = color[pixel * 3]! * (1 - alpha) + red * alpha;
          color[pixel * 3 + 1] = color[pixel * 3 + 1]! * (1 - alpha) + green * alpha;
          color[pixel * 3 + 2] = color[pixel * 3 + 2]! * (1 - alpha) + blue * alpha;
        });
      }
    }
  }
  const bytes = Buffer.alloc(w * h * 3);
  for (let i = 0; i < bytes.length; i++) bytes[i] = Math.max(0, Math.min(255, Math.round(color[i]! * 255)));
  return sharp(bytes, { raw: { width: w, height: h, channels: 3 } })
    .resize(width, height)
    .png({ palette: true, colours: 128 })
    .toBuffer();
}

function painted({ colors }: Piece, vertex: number): Vec3 | null {
  return colors && [colors[vertex * 4]! / 255, colors[vertex * 4 + 1]! / 255, colors[vertex * 4 + 2]! / 255];
}

/** A face's colour in the light, whichever of its sides is seen. */
function shade({ positions: p }: Piece, i: number, j: number, k: number, base: Vec3, eye: Vec3): Vec3 {
  const at = (v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
  let normal = unit(cross(subtract(at(j), at(i)), subtract(at(k), at(i))));
  if (dot(normal, subtract(eye, at(i))) < 0) normal = [-normal[0], -normal[1], -normal[2]];
  const light = 0.62 + 0.12 * normal[2] + 0.3 * Math.max(0, dot(normal, SUN));
  return [base[0] * light, base[1] * light, base[2] * light];
}
