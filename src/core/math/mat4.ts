/**
 * 4x4 matrices as 16 numbers in column-major order, double precision, acting on column vectors: the layout of glTF,
 * WebGL and the IFC reader alike.
 */
export type Mat4 = Float64Array;

export type Vec3 = [number, number, number];

export function identity(): Mat4 {
  const out = new Float64Array(16);
  out[0] = out[5] = out[10] = out[15] = 1;
  return out;
}

export function fromArray(values: ArrayLike<number>): Mat4 {
  if (values.length !== 16) throw new RangeError(`a 4x4 matrix has 16 numbers, not ${values.length}`);
  return Float64Array.from(values);
}

/** Product `a · b`: applies `b` first. @param out where it goes; neither of the two */
export function multiply(a: ArrayLike<number>, b: ArrayLike<number>, out: Mat4 = new Float64Array(16)): Mat4 {
  for (let column = 0; column < 4; column++) {
    for (let row = 0; row < 4; row++) {
      let sum = 0;
      for (let k = 0; k < 4; k++) sum += a[k * 4 + row]! * b[column * 4 + k]!;
      out[column * 4 + row] = sum;
    }
  }
  return out;
}

/** Point `p` moved by the affine matrix `m`. */
export function transformPoint(m: ArrayLike<number>, x: number, y: number, z: number): Vec3 {
  return [
    m[0]! * x + m[4]! * y + m[8]! * z + m[12]!,
    m[1]! * x + m[5]! * y + m[9]! * z + m[13]!,
    m[2]! * x + m[6]! * y + m[10]! * z + m[14]!,
  ];
}

/** Determinant of the upper-left 3x3 part: negative where `m` mirrors. */
export function determinant3(m: ArrayLike<number>): number {
  return (
    m[0]! * (m[5]! * m[10]! - m[6]! * m[9]!) -
    m[4]! * (m[1]! * m[10]! - m[2]! * m[9]!) +
    m[8]! * (m[1]! * m[6]! - m[2]! * m[5]!)
  );
}

/** Turns a frame with Y up (glTF, the IFC reader's output) into ours with Z up: (x, y, z) becomes (x, -z, y). */
export const Y_UP_TO_Z_UP: Readonly<Mat4> = Float64Array.of(1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 1);

/**
 * Matrix of a scale, then a rotation, then a translation.
 *
 * @param rotation unit quaternion (x, y, z, w)
 */
export function compose(translation: ArrayLike<number>, rotation: ArrayLike<number>, scale: ArrayLike<number>): Mat4 {
  const [x, y, z, w] = [rotation[0]!, rotation[1]!, rotation[2]!, rotation[3]!];
  const [sx, sy, sz] = [scale[0]!, scale[1]!, scale[2]!];
  return Float64Array.of(
    (1 - 2 * (y * y + z * z)) * sx,
    2 * (x * y + z * w) * sx,
    2 * (x * z - y * w) * sx,
    0,
    2 * (x * y - z * w) * sy,
    (1 - 2 * (x * x + z * z)) * sy,
    2 * (y * z + x * w) * sy,
    0,
    2 * (x * z + y * w) * sz,
    2 * (y * z - x * w) * sz,
    (1 - 2 * (x * x + y * y)) * sz,
    0,
    translation[0]!,
    translation[1]!,
    translation[2]!,
    1,
  );
}

/** Undoes an affine map; null where it leaves no space between things. */
export function invertAffine(m: ArrayLike<number>): Mat4 | null {
  const [a, b, c] = [m[0]!, m[4]!, m[8]!];
  const [d, e, f] = [m[1]!, m[5]!, m[9]!];
  const [g, h, i] = [m[2]!, m[6]!, m[10]!];
  const scale = 1 / determinant3(m);
  if (!Number.isFinite(scale)) return null;
  const out = Float64Array.of(
    ...[e * i - f * h, f * g - d * i, d * h - e * g, 0],
    ...[c * h - b * i, a * i - c * g, b * g - a * h, 0],
    ...[b * f - c * e, c * d - a * f, a * e - b * d, 0],
    ...[0, 0, 0, 0],
  ).map((cofactor) => cofactor * scale);
  out.set(transformPoint(out, -m[12]!, -m[13]!, -m[14]!), 12);
  out[15] = 1;
  return out;
}

/** Undoes a rigid motion: a rotation and a translation, no scale. */
export function invertRigid(m: ArrayLike<number>): Mat4 {
  const [x, y, z] = [m[12]!, m[13]!, m[14]!];
  const back = (column: number) => -(m[column]! * x + m[column + 1]! * y + m[column + 2]! * z);
  return Float64Array.of(
    ...[m[0]!, m[4]!, m[8]!, 0],
    ...[m[1]!, m[5]!, m[9]!, 0],
    ...[m[2]!, m[6]!, m[10]!, 0],
    ...[back(0), back(4), back(8), 1],
  );
}
