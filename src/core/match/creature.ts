import { angleBetween, distance, dot, lengthOf, mean, normalise, reject, subtract, type Vec3 } from '../math/vec3';
import type { MatchContext } from './context';
import { farthestBelow, limbTip, middleOf, type Limb, type Sided } from './limbs';
import type { BodyHypothesis } from './search';
import { trunkFrame } from './trunk';

export const CREATURE_KINDS = ['humanoid', 'four-legged', 'bird', 'partial', 'prop'] as const;
export type CreatureKind = (typeof CREATURE_KINDS)[number];

export interface Creature {
  readonly kind: CreatureKind;
  readonly isHumanoid: boolean;
  /** Sentences, the deciding one first. */
  readonly reasons: readonly string[];
}

const RIGHT_ANGLE = Math.PI / 2;

/** Two arms, two legs, a head, upright in its own frame: or why not. */
export function judgeCreature(context: MatchContext, best: BodyHypothesis | undefined, limbs: { legs: readonly Limb[]; arms: readonly Limb[] }): Creature {
  if (context.rig.bones.length === 0) return no('prop', 'there is no skeleton in the file');
  if (context.rig.bones.length < 8) return no('prop', `${context.rig.bones.length} bones are too few for two arms, two legs and a head`);
  const words = countWords(context);
  if (!best) {
    const missing = limbs.legs.length === 0 && limbs.arms.length === 0 ? 'no pair of limbs was found' : 'only one pair of limbs was found';
    return no(limbs.legs.length + limbs.arms.length > 0 ? 'partial' : 'prop', `${missing}; two arms and two legs are needed`);
  }
  if (words.pairedLimbs >= 4) return no('four-legged', `${words.pairedLimbs} limb bones are named as front and hind ones`);
  if (words.animal >= 3) return judgeNeck(context, best) ?? no('four-legged', `${words.animal} bones are named after parts of an animal`);
  if (words.wing >= 2 && words.hand === 0) return no('bird', `${words.wing} bones are named as wings, none as hands`);
  if (words.vehicle >= 3 && words.body < 6) return no('prop', `${words.vehicle} bones are named after parts of a machine`);
  const shape = judgeStance(context, best) ?? judgeNeck(context, best) ?? judgeLimbCount(context, best, limbs.legs);
  if (shape && words.hand < 2) return shape;
  if (best.trunk.head < 0) return no('partial', 'no head was found above the arms');
  const plausible = best.score;
  if (plausible < NOT_A_BODY && words.body < 6) {
    return no('prop', 'its pairs of chains do not have the proportions of arms and legs');
  }
  const reasons = ['two arms, two legs and a head were found'];
  if (words.tail > 0) reasons.push('it has a tail, which is left aside');
  return { kind: 'humanoid', isHumanoid: true, reasons };
}

/** Total score of a body below which chains are only chains. Names add to it, so an opaque rig starts lower. */
const NOT_A_BODY = -9;

const no = (kind: CreatureKind, reason: string): Creature => ({ kind, isHumanoid: false, reasons: [reason] });

const LIMB_PARTS = ['upperLeg', 'lowerLeg', 'foot', 'toes', 'upperArm', 'lowerArm', 'hand'] as const;

interface WordCounts {
  animal: number;
  /** Limb bones with a word for front or hind. */
  pairedLimbs: number;
  wing: number;
  vehicle: number;
  tail: number;
  hand: number;
  body: number;
}

function countWords(context: MatchContext): WordCounts {
  const counts: WordCounts = { animal: 0, pairedLimbs: 0, wing: 0, vehicle: 0, tail: 0, hand: 0, body: 0 };
  for (const { other, body } of context.names.bones) {
    for (const word of ['animal', 'wing', 'vehicle', 'tail'] as const) if ((other[word] ?? 0) >= 0.8) counts[word]++;
    if ((other.animal ?? 0) >= 0.4 && LIMB_PARTS.some((part) => (body[part] ?? 0) >= 0.5)) counts.pairedLimbs++;
    if ((body.hand ?? 0) >= 0.8 || (body.finger ?? 0) >= 0.8) counts.hand++;
    if (Object.values(body).some((weight) => weight >= 0.7)) counts.body++;
  }
  return counts;
}

/** Four limbs that all stand on the ground, across the trunk, make a four-legged animal. */
function judgeStance(context: MatchContext, best: BodyHypothesis): Creature | null {
  const frame = trunkFrame(context, best.legs, best.arms);
  const legLine = limbLine(context, best.legs);
  const armLine = limbLine(context, best.arms);
  const [legs, arms] = [normalise(legLine), normalise(armLine)];
  if (!frame.axis || !legs || !arms) return null;
  const together = angleBetween(legs, arms);
  const legsAcross = Math.abs(angleBetween(legs, frame.axis) - RIGHT_ANGLE);
  const armsAcross = Math.abs(angleBetween(arms, frame.axis) - RIGHT_ANGLE);
  // Toes against toes: where the wrist and the ankle are depends on how the animal walks.
  const tips = subtract(tipOf(context, limbTip(best.arms)), tipOf(context, limbTip(best.legs)));
  // Fore and hind feet stand a trunk apart; what counts is the difference across it.
  const heightBetween = Math.abs(dot(reject(tips, frame.axis), legs)) / (Math.max(lengthOf(legLine), lengthOf(armLine)) || 1);
  if (together < 0.6 && legsAcross < 0.7 && armsAcross < 0.7 && heightBetween < 0.4 && isNarrow(context, best.arms)) {
    return no('four-legged', 'both pairs of limbs hang side by side below a level trunk and end at the same height');
  }
  return null;
}

/** From the upper joint to the very end, toes and fingers included: what it is however much of it was matched. */
const limbLine = (context: MatchContext, limb: Limb): Vec3 => subtract(tipOf(context, limbTip(limb)), middleOf(context, limb.upper));

const tipOf = (context: MatchContext, pair: Sided): Vec3 => mean(pair.map((bone) => farthestBelow(context, bone)));

/** Neck and head longer than the trunk, over forelimbs that end without fingers. */
function judgeNeck(context: MatchContext, best: BodyHypothesis): Creature | null {
  const frame = trunkFrame(context, best.legs, best.arms);
  if (best.trunk.head < 0 || frame.length === 0) return null;
  const ratio = distance(farthestBelow(context, best.trunk.head), frame.armCentre) / frame.length;
  const hands = best.arms.end[0] >= 0 ? context.body.children[best.arms.end[0]].length : 0;
  return ratio > LONG_NECK && hands < 2 ? no('bird', `neck and head are ${ratio.toFixed(1)} times as long as the trunk and the forelimbs have no fingers`) : null;
}

const LONG_NECK = 1.2;
/** Further limbs within this share of the legs' length count as legs. */
const ALIKE_LEG = 0.2;

/** More than two pairs of limbs of the legs' own length: an insect, a spider, a machine. */
function judgeLimbCount(context: MatchContext, best: BodyHypothesis, legs: readonly Limb[]): Creature | null {
  // Strips of cloth come in many pairs too, but short ones.
  if (best.legs.length < 0.9 * trunkFrame(context, best.legs, best.arms).length) return null;
  const used = new Set([...best.legs.bones, ...best.arms.bones]);
  let further = 0;
  for (const limb of legs) {
    if (limb.end[0] < 0 || limb.lower[0] < 0 || limb.bones.some((bone) => used.has(bone))) continue;
    if (Math.abs(limb.length / best.legs.length - 1) > ALIKE_LEG) continue;
    limb.bones.forEach((bone) => used.add(bone));
    further++;
  }
  return further >= 2 ? no('partial', `${further + 2} pairs of limbs of the same length were found`) : null;
}

/** The limbs go down, not out: their ends are hardly farther apart than their roots. */
function isNarrow(context: MatchContext, arms: Limb): boolean {
  const { lateral } = context.mirror;
  const gap = (pair: readonly [number, number]) => Math.abs(lateral[pair[0]] - lateral[pair[1]]);
  return gap(limbTip(arms)) < gap(arms.upper) + 0.5 * arms.length;
}
