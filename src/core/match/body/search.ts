import { angleBetween, dot, normalise } from '../../math/vec3';
import { isAncestor } from '../../rig/rig-shape';
import type { MatchContext } from '../context/context';
import { findLimbs } from '../limbs/find-limbs';
import { limbPaths } from '../limbs/limb-path';
import { bell, limbDirection, limbTop, type Limb } from '../limbs/limbs';
import { createTrunkFinder, type Trunk } from '../trunk/trunk';
import { trunkFrame, type TrunkFrame } from '../trunk/trunk-frame';

/** One complete reading of the body: two legs, two arms, a centre line. */
export interface BodyHypothesis {
  readonly legs: Limb;
  readonly arms: Limb;
  readonly trunk: Trunk;
  readonly score: number;
  /** How well legs, arms and trunk fit together, without their own scores. */
  readonly jointScore: number;
}

export interface SearchResult {
  /** Best first; several share the same limbs. Empty when no two limb pairs could be found. */
  readonly hypotheses: readonly BodyHypothesis[];
  readonly legs: readonly Limb[];
  readonly arms: readonly Limb[];
  /** Pairings looked at, and how many there were. */
  readonly examined: number;
  readonly possible: number;
}

/** Pairings of legs and arms whose trunk is searched. Counted, so that the answer does not depend on the clock. */
const BUDGET = 160;
const KEPT = 400;
/** A pairing's own trunk may score this much better than the best one seen. */
const TRUNK_HOPE = 3;
/** A reading this far behind the best has no share in any confidence (e^-12 at the temperature used). */
const IRRELEVANT = 7;

/** Joint search over legs, arms and trunk: the best few of each are combined and scored together. */
export function searchBody(context: MatchContext): SearchResult {
  const paths = limbPaths(context);
  const legs = findLimbs(context, 'leg', paths);
  const arms = findLimbs(context, 'arm', paths);
  const pairings: { frame: TrunkFrame; jointScore: number; score: number }[] = [];
  for (const leg of legs) {
    for (const arm of arms) {
      if (!areCompatible(context, leg, arm)) continue;
      const frame = trunkFrame(context, leg, arm);
      const jointScore = scoreTogether(context, frame);
      pairings.push({ frame, jointScore, score: leg.score + arm.score + jointScore });
    }
  }
  pairings.sort((a, b) => b.score - a.score);
  const hypotheses: BodyHypothesis[] = [];
  const findTrunks = createTrunkFinder(context);
  let [bestTotal, bestTrunk, examined] = [-Infinity, -Infinity, 0];
  for (const pairing of pairings.slice(0, BUDGET)) {
    // Pairings come best first: once even a better trunk than any so far could not bring one near the best, none can.
    if (pairing.score + bestTrunk + TRUNK_HOPE < bestTotal - IRRELEVANT) break;
    examined++;
    const { frame, jointScore } = pairing;
    for (const trunk of findTrunks(frame).slice(0, 12)) {
      bestTrunk = Math.max(bestTrunk, trunk.score);
      bestTotal = Math.max(bestTotal, pairing.score + trunk.score);
      hypotheses.push({ legs: frame.legs, arms: frame.arms, trunk, score: pairing.score + trunk.score, jointScore });
    }
  }
  hypotheses.sort((a, b) => b.score - a.score);
  return { hypotheses: hypotheses.slice(0, KEPT), legs, arms, examined, possible: pairings.length };
}

/** Different bones, and neither limb hangs on the other. */
function areCompatible(context: MatchContext, legs: Limb, arms: Limb): boolean {
  for (const bone of arms.bones) if (legs.bones.includes(bone)) return false;
  const [legTop, armTop] = [limbTop(legs), limbTop(arms)];
  for (const a of legTop)
    for (const b of armTop) if (isAncestor(context.body, a, b) || isAncestor(context.body, b, a)) return false;
  return true;
}

/** How far legs against arms, and trunk against legs, may be off a person's proportions; standard deviations of the logarithm. */
export interface Proportions {
  readonly legsToArms: number;
  readonly trunkToLegs: number;
}

/** Wide where figures compete for bones: giants and goblins have arms as long as their legs. */
const FIGURES: Proportions = { legsToArms: 0.45, trunkToLegs: 0.6 };
/** Narrow where it is asked whether chains are a body at all. */
export const PEOPLE: Proportions = { legsToArms: 0.35, trunkToLegs: 0.45 };

/** Proportions and directions of legs, arms and trunk against each other. */
export function scoreTogether(context: MatchContext, frame: TrunkFrame, spread: Proportions = FIGURES): number {
  const { legs, arms, axis } = frame;
  if (!context.use.place) return 0;
  // Limbs of one bone have no length to compare.
  let score =
    legs.length > 0 && arms.length > 0
      ? bell(Math.log((legs.length + 1e-9) / (arms.length + 1e-9)), 0.38, spread.legsToArms, 3)
      : 0;
  if (legs.length > 0)
    score += bell(Math.log((frame.length + 1e-9) / (legs.length + 1e-9)), -0.55, spread.trunkToLegs, 3);
  if (!axis) return score - 3;
  // Most files stand upright; lying ones exist, so this is a hint only.
  score += 1.2 * dot(axis, context.fileUp);
  const legDirection = normalise(limbDirection(context, legs));
  if (legDirection) {
    const away = -dot(legDirection, axis);
    score += away > 0.5 ? 1 : away > -0.4 ? 0 : -2;
  }
  score += symmetryAcross(context, frame);
  return score;
}

/** Both pairs must lie across the same plane, at right angles to the trunk. */
function symmetryAcross(context: MatchContext, frame: TrunkFrame): number {
  if (!frame.axis) return 0;
  const tilt = Math.abs(Math.PI / 2 - angleBetween(context.mirror.normal, frame.axis));
  return tilt < 0.2 ? 0.4 : -Math.min(2, tilt * 2);
}
