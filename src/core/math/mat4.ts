import { fromAxes, type Quat } from './quat';
import { cross, dot, lengthOf, normalise, scale as scaleVec, subtract, type Vec3 } from './vec3';

/** 4 x 4 matrix, column-major, 16 numbers, as in glTF. */
export type Mat4 = readonly number[];

export const IDENTITY: Mat4 = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

export function multiply(a: Mat4, b: Mat4): number[] {
  const out = new Array<number>(16);
  for (let column = 0; column < 4; column++) {
    const [b0, b1, b2, b3] = [b[column * 4], b[column * 4 + 1], b[column * 4 + 2], b[column * 4 + 3]];
    for (let row = 0; row < 4; row++) {
      out[column * 4 + row] = a[row] * b0 + a[4 + row] * b1 + a[8 + row] * b2 + a[12 + row] * b3;
    }
  }
  return out;
}

/** translation * rotation * scale. */
export function compose(t: Vec3, r: Quat, s: Vec3): number[] {
  const [x, y, z, w] = r;
  return [
    (1 - 2 * (y * y + z * z)) * s[0],
    2 * (x * y + z * w) * s[0],
    2 * (x * z - y * w) * s[0],
    0,
    2 * (x * y - z * w) * s[1],
    (1 - 2 * (x * x + z * z)) * s[1],
    2 * (y * z + x * w) * s[1],
    0,
    2 * (x * z + y * w) * s[2],
    2 * (y * z - x * w) * s[2],
    (1 - 2 * (x * x + y * y)) * s[2],
    0,
    t[0],
    t[1],
    t[2],
    1,
  ];
}

export const translationOf = (m: Mat4): Vec3 => [m[12], m[13], m[14]];
const columnOf = (m: Mat4, column: number): Vec3 => [m[column * 4], m[column * 4 + 1], m[column * 4 + 2]];

export const transformPoint = (m: Mat4, p: Vec3): Vec3 => [
  m[0] * p[0] + m[4] * p[1] + m[8] * p[2] + m[12],
  m[1] * p[0] + m[5] * p[1] + m[9] * p[2] + m[13],
  m[2] * p[0] + m[6] * p[1] + m[10] * p[2] + m[14],
];

/** A unit normal turned by the transpose of `inverse`, which is the inverse of what moved its points; up where nothing is left of it. */
export function turnNormal(inverse: Mat4, [x, y, z]: Vec3): Vec3 {
  return (
    normalise([
      inverse[0] * x + inverse[1] * y + inverse[2] * z,
      inverse[4] * x + inverse[5] * y + inverse[6] * z,
      inverse[8] * x + inverse[9] * y + inverse[10] * z,
    ]) ?? [0, 1, 0]
  );
}

/** Determinant of the upper 3 x 3 block. */
export const determinant3 = (m: Mat4): number => dot(columnOf(m, 0), cross(columnOf(m, 1), columnOf(m, 2)));

/** Inverse of an affine matrix, or null when the 3 x 3 block is singular. */
export function invertAffine(m: Mat4): number[] | null {
  const [a, b, c] = [columnOf(m, 0), columnOf(m, 1), columnOf(m, 2)];
  const determinant = dot(a, cross(b, c));
  if (!Number.isFinite(determinant) || Math.abs(determinant) < 1e-30) return null;
  const k = 1 / determinant;
  const rows = [scaleVec(cross(b, c), k), scaleVec(cross(c, a), k), scaleVec(cross(a, b), k)];
  const t = translationOf(m);
  return [
    rows[0][0],
    rows[1][0],
    rows[2][0],
    0,
    rows[0][1],
    rows[1][1],
    rows[2][1],
    0,
    rows[0][2],
    rows[1][2],
    rows[2][2],
    0,
    -dot(rows[0], t),
    -dot(rows[1], t),
    -dot(rows[2], t),
    1,
  ];
}

export interface Decomposed {
  readonly translation: Vec3;
  readonly rotation: Quat;
  /** Per-axis scale; the z scale is negative for a mirroring matrix. */
  readonly scale: Vec3;
  /** Largest |cosine| between two axes: 0 for a matrix without shear. */
  readonly shear: number;
}

/** Translation, rotation, scale by Gram-Schmidt; what a TRS cannot hold is reported as `shear`. */
export function decompose(m: Mat4): Decomposed {
  const [cx, cy, cz] = [columnOf(m, 0), columnOf(m, 1), columnOf(m, 2)];
  const sx = lengthOf(cx) || 1e-30;
  const x = scaleVec(cx, 1 / sx);
  const yFlat = subtract(cy, scaleVec(x, dot(x, cy)));
  const yLength = lengthOf(yFlat);
  const y: Vec3 = yLength > 1e-30 ? scaleVec(yFlat, 1 / yLength) : [0, 1, 0];
  const z = cross(x, y);
  const [ly, lz] = [lengthOf(cy), lengthOf(cz)];
  const cosine = (a: Vec3, b: Vec3, la: number, lb: number) => (la * lb > 1e-30 ? Math.abs(dot(a, b)) / (la * lb) : 0);
  const shear = Math.max(cosine(cx, cy, sx, ly), cosine(cx, cz, sx, lz), cosine(cy, cz, ly, lz));
  return {
    translation: translationOf(m),
    rotation: fromAxes(x, y, z),
    scale: [sx, ly, dot(cz, z) < 0 ? -lz : lz],
    shear,
  };
}
