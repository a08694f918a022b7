import { add, scale, subtract, type Vec3 } from '../math/vec3';

/** Eases from 0 to 1 with speed and acceleration 0 at both ends. Source: Perlin 2002, "Improving noise". */
export function ease(x: number): number {
  const held = Math.max(0, Math.min(1, x));
  return held * held * held * (held * (held * 6 - 15) + 10);
}

/** Eased passage of `t` from one moment to another. */
export const between = (t: number, from: number, to: number): number => ease((t - from) / (to - from));

export const mix = (a: number, b: number, share: number): number => a + (b - a) * share;

/** Value on a cubic with places and speeds at both ends; x from 0 to 1, speeds per unit of x. */
export function hermite(a: number, speedA: number, b: number, speedB: number, x: number): number {
  const [x2, x3] = [x * x, x * x * x];
  return a * (2 * x3 - 3 * x2 + 1) + speedA * (x3 - 2 * x2 + x) + b * (3 * x2 - 2 * x3) + speedB * (x3 - x2);
}

export const hermitePlace = (a: Vec3, speedA: Vec3, b: Vec3, speedB: Vec3, x: number): Vec3 => [
  hermite(a[0], speedA[0], b[0], speedB[0], x),
  hermite(a[1], speedA[1], b[1], speedB[1], x),
  hermite(a[2], speedA[2], b[2], speedB[2], x),
];

/** A hill from 0 over 1 back to 0, level at both ends, the more so the higher `flat`; its top lies at `top`, 0 to 1. */
export function hill(x: number, top = 0.5, flat = 2): number {
  const held = Math.max(0, Math.min(1, x));
  const [a, b] = top < 0.5 ? [flat, (flat * (1 - top)) / top] : [(flat * top) / (1 - top), flat];
  return (held ** a * (1 - held) ** b) / (top ** a * (1 - top) ** b);
}

/** Slope of a place over time, per second. */
export const speedOf = (at: (t: number) => Vec3, t: number, step = 1e-4): Vec3 =>
  scale(subtract(at(t + step), at(t - step)), 1 / (2 * step));

/** A wave of period 1, highest at 0. */
export const wave = (x: number): number => Math.cos(2 * Math.PI * x);

/** Values at moments, passed through with ease and held where two neighbours are alike. */
export function keyed(keys: readonly (readonly [number, number])[], t: number): number {
  if (t <= keys[0][0]) return keys[0][1];
  for (let at = 1; at < keys.length; at++)
    if (t <= keys[at][0]) return mix(keys[at - 1][1], keys[at][1], between(t, keys[at - 1][0], keys[at][0]));
  return keys[keys.length - 1][1];
}

export const along = (from: Vec3, to: Vec3, share: number): Vec3 => add(from, scale(subtract(to, from), share));

/** The lower of two values, rounded off by `soft` where they cross, so that what follows does not jerk. */
export const softLeast = (a: number, b: number, soft: number): number => (a + b - Math.hypot(a - b, soft)) / 2;
export const softMost = (a: number, b: number, soft: number): number => (a + b + Math.hypot(a - b, soft)) / 2;
