import { fromAxisAngle, multiply, rotate, shortestArc, type Quat } from '../math/quat';
import { cross, distance, lengthOf, normalise, scale, subtract, add, reject, type Vec3 } from '../math/vec3';

/** Joints of a limb, from the top. */
export interface LimbPlaces {
  readonly top: Vec3;
  readonly middle: Vec3;
  readonly end: Vec3;
}

/** World turns that come on top of those of the upper and the lower bone. */
export interface LimbTurns {
  readonly upper: Quat;
  readonly lower: Quat;
}

/** A limb is not stretched further than this share of its length: it would not come back from straight. */
const REACH = 0.9995;
/** A leg of this share of its length is bent by some 23 degrees. */
const SOFT = 0.98;
/** Below and above these bends the hinge of the role counts, and the plane that the limb lies in; radians. */
const BENDS = [0.035, 0.14] as const;

/** Before its reach ends a limb slows down over this share of its length. */
const SLOWING = 0.006;

/**
 * How far a limb reaches freely: near straight a knee snaps, so no further than it does already, or than softly bent.
 * Metres.
 */
export function reachOf({ top, middle, end }: LimbPlaces): number {
  const whole = distance(top, middle) + distance(middle, end);
  return Math.max(SOFT * whole, Math.min(REACH * whole, distance(top, end))) - SLOWING * whole;
}

/** How far a limb's top has to go down so that its end comes to a place; 0 where it does, or cannot however deep. Metres. */
export function lackOf(limb: LimbPlaces, wanted: Vec3): number {
  const reach = reachOf(limb);
  const flat = Math.hypot(wanted[0] - limb.top[0], wanted[2] - limb.top[2]);
  return flat >= reach ? 0 : Math.max(0, limb.top[1] - wanted[1] - Math.sqrt(reach * reach - flat * flat));
}

/** A way that ends where the reach ends, without a corner: up to the free reach it is kept. */
function heldWithin(way: number, free: number, whole: number): number {
  const [over, room] = [way - free, SLOWING * whole];
  if (over <= 0) return way;
  return over < 2 * room ? way - (over * over) / (4 * room) : free + room;
}

/**
 * Turns the two bones of a limb so that its end comes to a place: the fold changes about the hinge, the whole limb then
 * turns by the shortest way. A place out of reach is approached as far as the limb goes. The way that the middle joint
 * points is kept.
 *
 * @param hinge axis that the limb folds about at this moment, unit, world; positive from straight.
 */
export function reachFor({ top, middle, end }: LimbPlaces, wanted: Vec3, hinge: Vec3): LimbTurns {
  const [upper, lower] = [distance(top, middle), distance(middle, end)];
  const held = heldWithin(distance(top, wanted), reachOf({ top, middle, end }), upper + lower);
  const far = Math.max(Math.abs(upper - lower) * 1.02, held);
  const [first, second] = [subtract(middle, top), subtract(end, middle)];
  const axis = foldAxis(first, second, hinge);
  let fold = 0;
  // The axis lies across both bones to within the noise of a straight limb: a few steps take what that leaves.
  for (let round = 0; round < 4; round++) {
    const now = distance(top, add(middle, rotate(fromAxisAngle(axis, fold), second)));
    fold += bendOf(upper, lower, far) - bendOf(upper, lower, now);
  }
  const folded = fromAxisAngle(axis, fold);
  const reached = subtract(add(middle, rotate(folded, second)), top);
  const way = normalise(subtract(wanted, top));
  const swing: Quat = way ? shortestArc(normalise(reached) ?? way, way) : [0, 0, 0, 1];
  return { upper: swing, lower: multiply(swing, folded) };
}

/** Angle by which a limb is bent, from the distance of its ends; radians. */
function bendOf(upper: number, lower: number, far: number): number {
  const cosine = (upper * upper + lower * lower - far * far) / (2 * upper * lower);
  const held = Math.max(-1, Math.min(1, cosine));
  return Math.PI - Math.atan2(Math.sqrt(1 - held * held), held);
}

function foldAxis(first: Vec3, second: Vec3, hinge: Vec3): Vec3 {
  const normal = cross(first, second);
  const bend = Math.atan2(lengthOf(normal), first[0] * second[0] + first[1] * second[1] + first[2] * second[2]);
  const along = normalise(first) ?? [0, 1, 0];
  const own = normalise(reject(hinge, along));
  const across = normalise(normal);
  if (!across || (own && bend < BENDS[0])) return own ?? across ?? hinge;
  if (!own || bend > BENDS[1]) return across;
  // Bent the other way it is straightened in its own plane.
  if (across[0] * own[0] + across[1] * own[1] + across[2] * own[2] < 0) return across;
  const share = (bend - BENDS[0]) / (BENDS[1] - BENDS[0]);
  return normalise(add(scale(own, 1 - share), scale(across, share))) ?? own;
}
