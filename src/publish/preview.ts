import sharp from 'sharp';
import { boxCentre, boxDiagonal, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import type { SurfaceMaterial } from '@/formats/building-model';
import type { Piece } from './element-geometry';

export interface PreviewView {
  eye: Vec3;
  target: Vec3;
  /** Vertical field of view in degrees. */
  fov: number;
}

const PAPER: Vec3 = [0.957, 0.937, 0.902];
/** Towards the sun, in the revision's frame. */
const SUN = unit([-0.45, -0.7, 0.9]);
const OVERSAMPLE = 2;

/** A view of the whole from the south-east and above. */
export function overview(extent: Box3): PreviewView {
  const target = boxCentre(extent);
  const distance = Math.max(boxDiagonal(extent), 0.1) * 1.15;
  const direction = unit([0.62, -0.86, 0.62]);
  return { target, eye: [0, 1, 2].map((axis) => target[axis]! + direction[axis]! * distance) as Vec3, fov: 40 };
}

/**
 * Draws pieces into a PNG on the processor alone (depth buffer, one sun, soft sky), so that previews need no graphics
 * card and no browser. See-through surfaces are drawn as a tint.
 */
export async function renderPreview(
  pieces: Piece[],
  materials: SurfaceMaterial[],
  view: PreviewView,
  width: number,
  height: number,
): Promise<Buffer> {
  const w = width * OVERSAMPLE;
  const h = height * OVERSAMPLE;
  const depth = new Float32Array(w * h).fill(Infinity);
  const color = new Float32Array(w * h * 3);
  for (let i = 0; i < w * h; i++) color.set(PAPER, i * 3);

  const forward = unit(subtract(view.target, view.eye));
  const right = unit(cross(forward, [0, 0, 1]));
  const up = cross(right, forward);
  const focal = h / 2 / Math.tan((view.fov * Math.PI) / 360);
  for (const opaque of [true, false]) {
    for (const piece of pieces) {
      const [r, g, b, a] = materials[piece.material]!.color;
      if (a >= 0.999 !== opaque || a < 0.15) continue;
      drawPiece(piece, [r, g, b], a);
    }
  }

  function drawPiece(piece: Piece, base: Vec3, alpha: number): void {
    const p = piece.positions;
    const count = p.length / 3;
    const sx = new Float64Array(count);
    const sy = new Float64Array(count);
    const sz = new Float64Array(count);
    for (let i = 0; i < count; i++) {
      const d: Vec3 = [p[i * 3]! - view.eye[0], p[i * 3 + 1]! - view.eye[1], p[i * 3 + 2]! - view.eye[2]];
      const z = dot(d, forward);
      sz[i] = z;
      sx[i] = w / 2 + (dot(d, right) * focal) / z;
      sy[i] = h / 2 - (dot(d, up) * focal) / z;
    }
    for (let t = 0; t + 2 < piece.indices.length; t += 3) {
      const [i, j, k] = [piece.indices[t]!, piece.indices[t + 1]!, piece.indices[t + 2]!];
      if (sz[i]! < 0.1 || sz[j]! < 0.1 || sz[k]! < 0.1) continue;
      fillTriangle(i, j, k, sx, sy, sz, shade(p, i, j, k, painted(piece, i) ?? base), alpha);
    }
  }

  function painted({ colors }: Piece, vertex: number): Vec3 | null {
    return colors && [colors[vertex * 4]! / 255, colors[vertex * 4 + 1]! / 255, colors[vertex * 4 + 2]! / 255];
  }

  function shade(p: Float64Array, i: number, j: number, k: number, base: Vec3): Vec3 {
    const at = (v: number): Vec3 => [p[v * 3]!, p[v * 3 + 1]!, p[v * 3 + 2]!];
    let normal = unit(cross(subtract(at(j), at(i)), subtract(at(k), at(i))));
    if (dot(normal, subtract(view.eye, at(i))) < 0) normal = [-normal[0], -normal[1], -normal[2]];
    const light = 0.62 + 0.12 * normal[2] + 0.3 * Math.max(0, dot(normal, SUN));
    return [base[0] * light, base[1] * light, base[2] * light];
  }

  function fillTriangle(
    i: number,
    j: number,
    k: number,
    sx: Float64Array,
    sy: Float64Array,
    sz: Float64Array,
    rgb: Vec3,
    alpha: number,
  ): void {
    const [x0, y0, x1, y1, x2, y2] = [sx[i]!, sy[i]!, sx[j]!, sy[j]!, sx[k]!, sy[k]!];
    const twice = (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0);
    if (Math.abs(twice) < 1e-9) return;
    const [q0, q1, q2] = [1 / sz[i]!, 1 / sz[j]!, 1 / sz[k]!];
    const left = Math.max(0, Math.floor(Math.min(x0, x1, x2)));
    const rightEdge = Math.min(w - 1, Math.ceil(Math.max(x0, x1, x2)));
    const top = Math.max(0, Math.floor(Math.min(y0, y1, y2)));
    const bottom = Math.min(h - 1, Math.ceil(Math.max(y0, y1, y2)));
    for (let y = top; y <= bottom; y++) {
      for (let x = left; x <= rightEdge; x++) {
        const w0 = ((x1 - x - 0.5) * (y2 - y - 0.5) - (x2 - x - 0.5) * (y1 - y - 0.5)) / twice;
        const w1 = ((x2 - x - 0.5) * (y0 - y - 0.5) - (x0 - x - 0.5) * (y2 - y - 0.5)) / twice;
        const w2 = 1 - w0 - w1;
        if (w0 < 0 || w1 < 0 || w2 < 0) continue;
        const z = 1 / (w0 * q0 + w1 * q1 + w2 * q2);
        const pixel = y * w + x;
        if (z >= depth[pixel]!) continue;
        if (alpha >= 0.999) depth[pixel] = z;
        for (let c = 0; c < 3; c++) color[pixel * 3 + c] = color[pixel * 3 + c]! * (1 - alpha) + rgb[c]! * alpha;
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

function subtract(a: Vec3, b: Vec3): Vec3 {
  return [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
}

function cross(a: Vec3, b: Vec3): Vec3 {
  return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
}

function dot(a: Vec3, b: Vec3): number {
  return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
}

function unit(a: Vec3): Vec3 {
  const length = Math.hypot(...a) || 1;
  return [a[0] / length, a[1] / length, a[2] / length];
}
