import { anyPerpendicular, cross, dot, lengthOf, normalise as normaliseVec, scale, type Vec3 } from './vec3';

/** Unit quaternion x, y, z, w. q and -q are one rotation. */
export type Quat = readonly [number, number, number, number];

export const IDENTITY: Quat = [0, 0, 0, 1];

/** Hamilton product: `a` after `b`. */
export const multiply = (a: Quat, b: Quat): Quat => [
  a[3] * b[0] + a[0] * b[3] + a[1] * b[2] - a[2] * b[1],
  a[3] * b[1] + a[1] * b[3] + a[2] * b[0] - a[0] * b[2],
  a[3] * b[2] + a[2] * b[3] + a[0] * b[1] - a[1] * b[0],
  a[3] * b[3] - a[0] * b[0] - a[1] * b[1] - a[2] * b[2],
];

/** Inverse of a unit quaternion. */
export const conjugate = (q: Quat): Quat => [-q[0], -q[1], -q[2], q[3]];

/** Unit length; the identity when the input is (nearly) zero. */
export function normalise(q: Quat): Quat {
  const length = Math.hypot(q[0], q[1], q[2], q[3]);
  return length > 1e-12 ? [q[0] / length, q[1] / length, q[2] / length, q[3] / length] : IDENTITY;
}

export function rotate(q: Quat, v: Vec3): Vec3 {
  const axis: Vec3 = [q[0], q[1], q[2]];
  const t = scale(cross(axis, v), 2);
  const u = cross(axis, t);
  return [v[0] + q[3] * t[0] + u[0], v[1] + q[3] * t[1] + u[1], v[2] + q[3] * t[2] + u[2]];
}

/** Rotation by `angleRad` about the unit vector `axis`. */
export function fromAxisAngle(axis: Vec3, angleRad: number): Quat {
  const s = Math.sin(angleRad / 2);
  return [axis[0] * s, axis[1] * s, axis[2] * s, Math.cos(angleRad / 2)];
}

/** Rotation angle in radians, [0, π]. */
export const angleOf = (q: Quat): number => 2 * Math.atan2(Math.hypot(q[0], q[1], q[2]), Math.abs(q[3]));

/**
 * Shortest rotation taking direction `from` to direction `to`. For opposite directions the turn is about
 * `halfTurnAxis` (made perpendicular), so that a hinge can decide which way round a half turn goes.
 */
export function shortestArc(from: Vec3, to: Vec3, halfTurnAxis?: Vec3): Quat {
  const a = normaliseVec(from);
  const b = normaliseVec(to);
  if (!a || !b) return IDENTITY;
  // 1 + a.b as half the squared length of the sum: exact enough just short of a half turn, where 1 + a.b cancels.
  const sum: Vec3 = [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
  const w = dot(sum, sum) / 2;
  if (w > 1e-14) {
    const axis = cross(a, b);
    return normalise([axis[0], axis[1], axis[2], w]);
  }
  const hinge = halfTurnAxis && normaliseVec(cross(cross(a, halfTurnAxis), a));
  const axis = hinge ?? anyPerpendicular(a);
  return [axis[0], axis[1], axis[2], 0];
}

/** Spherical interpolation along the shorter way. Source: Shoemake 1985. */
export function slerp(a: Quat, b: Quat, t: number): Quat {
  let cosine = a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3];
  const sign = cosine < 0 ? -1 : 1;
  cosine *= sign;
  const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
  const angle = Math.atan2(sine, cosine);
  const [ka, kb] =
    sine > 1e-9 ? [Math.sin((1 - t) * angle) / sine, (sign * Math.sin(t * angle)) / sine] : [1 - t, sign * t];
  return normalise([a[0] * ka + b[0] * kb, a[1] * ka + b[1] * kb, a[2] * ka + b[2] * kb, a[3] * ka + b[3] * kb]);
}

/**
 * Rotation whose columns are the given right-handed orthonormal axes (images of X, Y, Z).
 * Source: Shepperd 1978, branch on the largest diagonal term.
 */
export function fromAxes(x: Vec3, y: Vec3, z: Vec3): Quat {
  const trace = x[0] + y[1] + z[2];
  if (trace > 0) {
    const s = 2 * Math.sqrt(trace + 1);
    return normalise([(y[2] - z[1]) / s, (z[0] - x[2]) / s, (x[1] - y[0]) / s, s / 4]);
  }
  if (x[0] > y[1] && x[0] > z[2]) {
    const s = 2 * Math.sqrt(Math.max(0, 1 + x[0] - y[1] - z[2]));
    return normalise([s / 4, (y[0] + x[1]) / s, (z[0] + x[2]) / s, (y[2] - z[1]) / s]);
  }
  if (y[1] > z[2]) {
    const s = 2 * Math.sqrt(Math.max(0, 1 + y[1] - x[0] - z[2]));
    return normalise([(y[0] + x[1]) / s, s / 4, (z[1] + y[2]) / s, (z[0] - x[2]) / s]);
  }
  const s = 2 * Math.sqrt(Math.max(0, 1 + z[2] - x[0] - y[1]));
  return normalise([(z[0] + x[2]) / s, (z[1] + y[2]) / s, s / 4, (x[1] - y[0]) / s]);
}

/**
 * Signed angle of `q` about the unit `axis` once the swing is removed, radians in [-π, π]; 0 where a half-turn swing
 * leaves it undefined. Source: Dobrowolski 2015, "Swing-twist decomposition in Clifford algebra".
 */
export function twistAngle(q: Quat, axis: Vec3): number {
  const along = dot([q[0], q[1], q[2]], axis);
  const sign = q[3] < 0 ? -1 : 1;
  return lengthOf([along, 0, 0]) + Math.abs(q[3]) < 1e-12 ? 0 : 2 * Math.atan2(sign * along, sign * q[3]);
}
