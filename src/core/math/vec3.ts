/** Three numbers x, y, z. Plain arrays in double precision; every function returns a new one. */
export type Vec3 = readonly [number, number, number];

export const ZERO: Vec3 = [0, 0, 0];
export const X_AXIS: Vec3 = [1, 0, 0];
export const Y_AXIS: Vec3 = [0, 1, 0];
export const Z_AXIS: Vec3 = [0, 0, 1];

/** Below this length (metres or unit-less) a vector has no usable direction. */
const MIN_LENGTH = 1e-9;

export const add = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const subtract = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const scale = (a: Vec3, k: number): Vec3 => [a[0] * k, a[1] * k, a[2] * k];
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const lengthOf = (a: Vec3): number => Math.sqrt(a[0] * a[0] + a[1] * a[1] + a[2] * a[2]);
export function distance(a: Vec3, b: Vec3): number {
  const [x, y, z] = [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
  // Math.hypot guards against overflow that places in a body never reach, at several times the cost.
  return Math.sqrt(x * x + y * y + z * z);
}

export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/** Unit vector along `a`, or null when `a` is too short to have a direction. */
export function normalise(a: Vec3): Vec3 | null {
  const length = lengthOf(a);
  return length > MIN_LENGTH ? scale(a, 1 / length) : null;
}

export const lerp = (a: Vec3, b: Vec3, t: number): Vec3 => [
  a[0] + (b[0] - a[0]) * t,
  a[1] + (b[1] - a[1]) * t,
  a[2] + (b[2] - a[2]) * t,
];

/** Mean of some points; the zero vector for none. */
export function mean(points: readonly Vec3[]): Vec3 {
  if (points.length === 0) return ZERO;
  let sum: Vec3 = ZERO;
  for (const point of points) sum = add(sum, point);
  return scale(sum, 1 / points.length);
}

/** Angle between two vectors in radians, [0, π]; 0 when either has no direction. By atan2, stable near 0 and π. */
export function angleBetween(a: Vec3, b: Vec3): number {
  return Math.atan2(lengthOf(cross(a, b)), dot(a, b));
}

/** Distance of a point to a segment. Source: Ericson 2004, Real-Time Collision Detection, 5.1.2. */
export function distanceToSegment(point: Vec3, start: Vec3, end: Vec3): number {
  const [dx, dy, dz] = [end[0] - start[0], end[1] - start[1], end[2] - start[2]];
  const [px, py, pz] = [point[0] - start[0], point[1] - start[1], point[2] - start[2]];
  const length = dx * dx + dy * dy + dz * dz;
  const share = length < 1e-12 ? 0 : Math.max(0, Math.min(1, (px * dx + py * dy + pz * dz) / length));
  return Math.hypot(px - dx * share, py - dy * share, pz - dz * share);
}

/** The part of `a` at right angles to the unit vector `axis`. */
export const reject = (a: Vec3, axis: Vec3): Vec3 => subtract(a, scale(axis, dot(a, axis)));

/** Some unit vector at right angles to the unit vector `a`; deterministic. */
export function anyPerpendicular(a: Vec3): Vec3 {
  const helper: Vec3 = Math.abs(a[0]) < 0.9 ? X_AXIS : Y_AXIS;
  return normalise(cross(a, helper)) ?? Z_AXIS;
}
