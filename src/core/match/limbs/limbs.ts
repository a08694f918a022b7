import { dot, mean, normalise, reject, subtract, type Vec3 } from '../../math/vec3';
import type { MatchContext } from '../context/context';

export type LimbKind = 'arm' | 'leg';

/** Three joints (and a clavicle for arms) on both sides. Sides `a` and `b` are not yet told apart. */
export interface Limb {
  readonly kind: LimbKind;
  /** Clavicle, or -1. Always -1 for legs. */
  readonly base: Sided;
  readonly upper: Sided;
  /** -1 where the limb has no bone between its first and its last. */
  readonly lower: Sided;
  /** Hand or foot; -1 where the limb ends without one. */
  readonly end: Sided;
  /** All bones that the limb uses, both sides. */
  readonly bones: readonly number[];
  readonly score: number;
  /** upper + lower segment, file units, mean of the sides; 0 for a limb of one bone. */
  readonly length: number;
}

/** Bone on side a and on side b; -1 for none. */
export type Sided = readonly [a: number, b: number];
export const NONE: Sided = [-1, -1];

/** −½ z², never worse than `-worst`: a single odd proportion must not outweigh everything else. */
export const bell = (value: number, expected: number, spread: number, worst: number): number =>
  Math.max(-worst, -0.5 * ((value - expected) / spread) ** 2);

/** Place of the end of the longest way down from a bone. */
export const farthestBelow = (context: MatchContext, bone: number): Vec3 =>
  context.body.positions[context.body.tips[bone]];

/** Middle between the two sides of a joint. */
export const middleOf = (context: MatchContext, pair: Sided): Vec3 =>
  mean([context.body.positions[pair[0]], context.body.positions[pair[1]]]);

/** Signed amount by which the middle joint lies off the straight line, along `direction`, as a share of the limb's length. */
export function bendAlong(context: MatchContext, limb: Limb, side: 0 | 1, direction: Vec3): number {
  if (limb.lower[0] < 0 || limb.end[0] < 0) return 0;
  const { positions } = context.body;
  const [from, joint, to] = [limb.upper[side], limb.lower[side], limb.end[side]].map((bone) => positions[bone]);
  const line = normalise(subtract(to, from));
  if (!line) return 0;
  const off = reject(subtract(joint, from), line);
  return dot(off, direction) / (limb.length || 1);
}

/** First joint of the limb on each side: the clavicle where there is one. */
export const limbTop = (limb: Limb): Sided => (limb.base[0] >= 0 ? limb.base : limb.upper);

/** Last joint of the limb that was found. */
export const limbTip = (limb: Limb): Sided => [limb.end, limb.lower, limb.upper].find(([a]) => a >= 0) ?? NONE;

/** Mean direction from the upper joint to the end, both sides; not normalised. */
export function limbDirection(context: MatchContext, limb: Limb): Vec3 {
  return subtract(middleOf(context, limbTip(limb)), middleOf(context, limb.upper));
}
