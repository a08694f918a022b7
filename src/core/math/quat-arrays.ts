import type { Quat } from './quat';

/** Unit quaternions x, y, z, w in long arrays: for loops over frames, where an object per product would cost the time. */
export type Quats = Float32Array | Float64Array;

/** The quaternion that starts at a number of an array. */
export const quatAt = (values: ArrayLike<number>, at: number): Quat => [
  values[at],
  values[at + 1],
  values[at + 2],
  values[at + 3],
];

/** out[at] = a[i] * b[j] (Hamilton: a after b). Offsets count numbers; `out` may be either input. */
export function writeProduct(
  out: Quats,
  at: number,
  a: ArrayLike<number>,
  i: number,
  b: ArrayLike<number>,
  j: number,
): void {
  const ax = a[i];
  const ay = a[i + 1];
  const az = a[i + 2];
  const aw = a[i + 3];
  const bx = b[j];
  const by = b[j + 1];
  const bz = b[j + 2];
  const bw = b[j + 3];
  out[at] = aw * bx + ax * bw + ay * bz - az * by;
  out[at + 1] = aw * by + ay * bw + az * bx - ax * bz;
  out[at + 2] = aw * bz + az * bw + ax * by - ay * bx;
  out[at + 3] = aw * bw - ax * bx - ay * by - az * bz;
}

/** out[at] = inverse of a[i], times b[j]; unit quaternions. */
export function writeDifference(
  out: Quats,
  at: number,
  a: ArrayLike<number>,
  i: number,
  b: ArrayLike<number>,
  j: number,
): void {
  const ax = -a[i];
  const ay = -a[i + 1];
  const az = -a[i + 2];
  const aw = a[i + 3];
  const bx = b[j];
  const by = b[j + 1];
  const bz = b[j + 2];
  const bw = b[j + 3];
  out[at] = aw * bx + ax * bw + ay * bz - az * by;
  out[at + 1] = aw * by + ay * bw + az * bx - ax * bz;
  out[at + 2] = aw * bz + az * bw + ax * by - ay * bx;
  out[at + 3] = aw * bw - ax * bx - ay * by - az * bz;
}

/** out[at] = vector v[j] turned by the unit quaternion q[i]. */
export function writeRotated(
  out: Quats,
  at: number,
  q: ArrayLike<number>,
  i: number,
  v: ArrayLike<number>,
  j: number,
): void {
  const qx = q[i];
  const qy = q[i + 1];
  const qz = q[i + 2];
  const qw = q[i + 3];
  const vx = v[j];
  const vy = v[j + 1];
  const vz = v[j + 2];
  const tx = 2 * (qy * vz - qz * vy);
  const ty = 2 * (qz * vx - qx * vz);
  const tz = 2 * (qx * vy - qy * vx);
  out[at] = vx + qw * tx + qy * tz - qz * ty;
  out[at + 1] = vy + qw * ty + qz * tx - qx * tz;
  out[at + 2] = vz + qw * tz + qx * ty - qy * tx;
}

/**
 * out[at] = a[i] * b[j], of unit length, and of the sign that is nearer to out[before]; at first, before < 0, of positive w.
 * The three in one step: this is the innermost loop of reading a motion.
 */
export function writeTurn(
  out: Quats,
  at: number,
  a: ArrayLike<number>,
  i: number,
  b: ArrayLike<number>,
  j: number,
  before: number,
): void {
  const ax = a[i];
  const ay = a[i + 1];
  const az = a[i + 2];
  const aw = a[i + 3];
  const bx = b[j];
  const by = b[j + 1];
  const bz = b[j + 2];
  const bw = b[j + 3];
  const x = aw * bx + ax * bw + ay * bz - az * by;
  const y = aw * by + ay * bw + az * bx - ax * bz;
  const z = aw * bz + az * bw + ax * by - ay * bx;
  const w = aw * bw - ax * bx - ay * by - az * bz;
  const side = before < 0 ? w : x * out[before] + y * out[before + 1] + z * out[before + 2] + w * out[before + 3];
  const k = (side < 0 ? -1 : 1) / Math.sqrt(x * x + y * y + z * z + w * w);
  out[at] = x * k;
  out[at + 1] = y * k;
  out[at + 2] = z * k;
  out[at + 3] = w * k;
}

/** out[at] = first[side] * (inverse of turns[above] * turns[own]) * last[side]; unit quaternions. */
export function writeBetween(
  out: Quats,
  at: number,
  turns: ArrayLike<number>,
  above: number,
  own: number,
  first: ArrayLike<number>,
  last: ArrayLike<number>,
  side: number,
): void {
  let ax = -turns[above];
  let ay = -turns[above + 1];
  let az = -turns[above + 2];
  let aw = turns[above + 3];
  let bx = turns[own];
  let by = turns[own + 1];
  let bz = turns[own + 2];
  let bw = turns[own + 3];
  let x = aw * bx + ax * bw + ay * bz - az * by;
  let y = aw * by + ay * bw + az * bx - ax * bz;
  let z = aw * bz + az * bw + ax * by - ay * bx;
  let w = aw * bw - ax * bx - ay * by - az * bz;
  ax = first[side];
  ay = first[side + 1];
  az = first[side + 2];
  aw = first[side + 3];
  bx = aw * x + ax * w + ay * z - az * y;
  by = aw * y + ay * w + az * x - ax * z;
  bz = aw * z + az * w + ax * y - ay * x;
  bw = aw * w - ax * x - ay * y - az * z;
  ax = last[side];
  ay = last[side + 1];
  az = last[side + 2];
  aw = last[side + 3];
  x = bw * ax + bx * aw + by * az - bz * ay;
  y = bw * ay + by * aw + bz * ax - bx * az;
  z = bw * az + bz * aw + bx * ay - by * ax;
  w = bw * aw - bx * ax - by * ay - bz * az;
  out[at] = x;
  out[at + 1] = y;
  out[at + 2] = z;
  out[at + 3] = w;
}

/** out[at] = from a[i] towards b[j] by the shorter way, share t. Source: Shoemake 1985. */
export function writeSlerp(
  out: Quats,
  at: number,
  a: ArrayLike<number>,
  i: number,
  b: ArrayLike<number>,
  j: number,
  t: number,
): void {
  let cosine = a[i] * b[j] + a[i + 1] * b[j + 1] + a[i + 2] * b[j + 2] + a[i + 3] * b[j + 3];
  const sign = cosine < 0 ? -1 : 1;
  cosine *= sign;
  let ka = 1 - t;
  let kb = t * sign;
  // Keys of neighbouring frames lie so near that the chord and the arc agree to the last digit of a float.
  if (cosine < 0.9999995) {
    const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
    const angle = Math.atan2(sine, cosine);
    ka = Math.sin((1 - t) * angle) / sine;
    kb = (Math.sin(t * angle) / sine) * sign;
  }
  const x = a[i] * ka + b[j] * kb;
  const y = a[i + 1] * ka + b[j + 1] * kb;
  const z = a[i + 2] * ka + b[j + 2] * kb;
  const w = a[i + 3] * ka + b[j + 3] * kb;
  const k = 1 / Math.sqrt(x * x + y * y + z * z + w * w);
  out[at] = x * k;
  out[at + 1] = y * k;
  out[at + 2] = z * k;
  out[at + 3] = w * k;
}

/** Turns the sign of q[at] so that it lies on the side of q[before]: q and -q are one rotation. */
export function keepSign(q: Quats, at: number, before: number): void {
  const cosine = q[at] * q[before] + q[at + 1] * q[before + 1] + q[at + 2] * q[before + 2] + q[at + 3] * q[before + 3];
  if (cosine < 0) for (let k = 0; k < 4; k++) q[at + k] = -q[at + k];
}

/** Unit length at q[at]; the identity where nothing is left of it. */
export function normaliseAt(q: Quats, at: number): void {
  const square = q[at] * q[at] + q[at + 1] * q[at + 1] + q[at + 2] * q[at + 2] + q[at + 3] * q[at + 3];
  if (!(square > 1e-24)) {
    q[at] = q[at + 1] = q[at + 2] = 0;
    q[at + 3] = 1;
    return;
  }
  const k = 1 / Math.sqrt(square);
  for (let each = 0; each < 4; each++) q[at + each] *= k;
}
