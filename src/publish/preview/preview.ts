import sharp from 'sharp';
import { boxCentre, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import { cross, dot, subtract, unit } from '@/core/math/vec3';
import { Cover } from './cover';
import type { Piece } from '../geometry/element-geometry';
import { Pauses } from '../threads/pauses';
import type { Surface } from '../pictures/pictures';
import { Raster, viewFrom, type RasterView } from './raster';

const PAPER: Vec3 = [0.957, 0.937, 0.902];
/** Towards the sun, in the revision's frame. */
const SUN = unit([-0.45, -0.7, 0.9]);
const OVERSAMPLE = 2;
/** Of the search for the palette, up to 10: half the time of 7, for a file that is a fiftieth larger. */
const PNG_EFFORT = 5;
/** Pixels across; what is smaller is not drawn. */
const SPECK = 1;

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
  const cover = new Cover(raster, depth);
  const brush = new Brush(depth, view.eye);
  const large = pieces.filter((piece) => raster.pixelsAcross(piece.box) >= SPECK);
  // Near ones first, so that little is painted only to be hidden; see-through ones the other way round.
  const distances = Float64Array.from(large, ({ box }) => boxDistance(box, view.eye));
  const order = Uint32Array.from(large, (_, i) => i).sort((a, b) => distances[a]! - distances[b]!);
  const nearFirst = Array.from(order, (i) => large[i]!);
  const pauses = new Pauses();
  for (const opaque of [true, false]) {
    for (const piece of opaque ? nearFirst : nearFirst.toReversed()) {
      const [r, g, b, alpha] = surfaces[piece.material]!.plain;
      if (alpha >= 0.999 !== opaque || alpha < 0.15 || cover.hides(piece.box)) continue;
      if (pauses.areDue) await pauses.pause();
      const at = raster.project(piece.positions);
      brush.take(piece, [r, g, b], opaque ? 1 : alpha);
      const { indices } = piece;
      for (let corner = 0; corner + 2 < indices.length; corner += 3) {
        brush.turnTo(corner);
        raster.fill(at, indices[corner]!, indices[corner + 1]!, indices[corner + 2]!, brush.paint);
      }
    }
  }
  const { color } = brush;
  const bytes = new Uint8ClampedArray(color.length);
  for (let i = 0; i < color.length; i++) bytes[i] = color[i]! * 255;
  return sharp(bytes, { raw: { width: w, height: h, channels: 3 } })
    .resize(width, height)
    .png({ palette: true, colours: 128, effort: PNG_EFFORT })
    .toBuffer();
}

/** Paints pixels of one face after the other. */
class Brush {
  /** Red, green and blue of every pixel, 0..1. */
  readonly color: Float32Array;
  private piece: Piece | null = null;
  private plain: Vec3 = PAPER;
  private alpha = 1;
  private corner = 0;
  /** Of the face at hand; null until a pixel asks for it. */
  private shade: Vec3 | null = null;

  constructor(
    private readonly depth: Float32Array,
    private readonly eye: Vec3,
  ) {
    this.color = new Float32Array(depth.length * 3);
    this.color.set(PAPER);
    for (let done = 3; done < this.color.length; done *= 2) this.color.copyWithin(done, 0, done);
  }

  /** @param plain where its vertices are not painted @param alpha 1 for what hides all that is behind it */
  take(piece: Piece, plain: Vec3, alpha: number): void {
    this.piece = piece;
    this.plain = plain;
    this.alpha = alpha;
  }

  /** @param corner the face's first in the list of triangles */
  turnTo(corner: number): void {
    this.corner = corner;
    this.shade = null;
  }

  readonly paint = (pixel: number, ahead: number): void => {
    const { depth, color, alpha } = this;
    if (ahead >= depth[pixel]!) return;
    if (alpha === 1) depth[pixel] = ahead;
    const [r, g, b] = (this.shade ??= shadeOf(this.piece!, this.corner, this.plain, this.eye));
    const at = pixel * 3;
    color[at] = color[at]! * (1 - alpha) + r * alpha;
    color[at + 1] = color[at + 1]! * (1 - alpha) + g * alpha;
    color[at + 2] = color[at + 2]! * (1 - alpha) + b * alpha;
  };
}

function boxDistance(box: Box3, [x, y, z]: Vec3): number {
  const [cx, cy, cz] = boxCentre(box);
  return Math.hypot(cx - x, cy - y, cz - z);
}

function painted({ colors }: Piece, vertex: number): Vec3 | null {
  return colors && [colors[vertex * 4]! / 255, colors[vertex * 4 + 1]! / 255, colors[vertex * 4 + 2]! / 255];
}

/**
 * A face's colour in the light, whichever of its sides is seen.
 *
 * @param corner the face's first in the list of triangles
 * @param plain where its vertices are not painted
 */
function shadeOf(piece: Piece, corner: number, plain: Vec3, eye: Vec3): Vec3 {
  const { positions: p, indices } = piece;
  const [i, j, k] = [indices[corner]!, indices[corner + 1]!, indices[corner + 2]!];
  const base = painted(piece, i) ?? plain;
  const at = (v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
  let normal = unit(cross(subtract(at(j), at(i)), subtract(at(k), at(i))));
  if (dot(normal, subtract(eye, at(i))) < 0) normal = [-normal[0], -normal[1], -normal[2]];
  const light = 0.62 + 0.12 * normal[2] + 0.3 * Math.max(0, dot(normal, SUN));
  return [base[0] * light, base[1] * light, base[2] * light];
}
