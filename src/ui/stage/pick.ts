import type { StageBone } from './overlay-types';
import type { PlaceSet } from './place-set';

/** Joints are hit within so many pixels. */
const REACH = 12;

/** All joints so near to each other under a pixel that a click cannot tell them apart, nearest first. */
export function pickTied(places: PlaceSet, x: number, y: number): number[] {
  const near: { bone: number; away: number }[] = [];
  for (let bone = 0; bone < places.count; bone++) {
    const away = Math.hypot(places.x(bone) - x, places.y(bone) - y);
    if (away < REACH) near.push({ bone, away });
  }
  near.sort((a, b) => a.away - b.away);
  const [first] = near;
  return near
    .filter(({ bone }) => Math.hypot(places.x(bone) - places.x(first.bone), places.y(bone) - places.y(first.bone)) < 3)
    .map(({ bone }) => bone);
}

/** Index of the joint nearest to a pixel, or of the nearest rod's upper joint; null when nothing is within reach. */
export function pickBone(bones: readonly StageBone[], places: PlaceSet, x: number, y: number): number | null {
  let best: number | null = null;
  let bestDistance = REACH;
  for (const { index, side } of bones) {
    if (!places.has(index)) continue;
    const away = Math.hypot(places.x(index) - x, places.y(index) - y) - (side === 'spare' ? 0 : 2);
    if (away < bestDistance) [best, bestDistance] = [index, away];
  }
  if (best !== null) return best;
  let nearest = 7;
  for (const { index, parent } of bones) {
    if (!places.has(index) || !places.has(parent)) continue;
    const away = distanceToRod(x, y, places, parent, index);
    if (away < nearest) [best, nearest] = [parent, away];
  }
  return best;
}

function distanceToRod(x: number, y: number, places: PlaceSet, from: number, to: number): number {
  const [fx, fy] = [places.x(from), places.y(from)];
  const [dx, dy] = [places.x(to) - fx, places.y(to) - fy];
  const squared = dx * dx + dy * dy;
  const t = squared > 0 ? Math.max(0, Math.min(1, ((x - fx) * dx + (y - fy) * dy) / squared)) : 0;
  return Math.hypot(fx + dx * t - x, fy + dy * t - y);
}
