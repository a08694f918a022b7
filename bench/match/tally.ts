import type { Match } from '@/core/match/context/match-types';
import { mirrorRole } from '@/core/definition/definition';
import { QUAY } from '@/core/definition/quay';
import { QUAY_ROLES } from './roles';
import type { MadeRig } from './make-rig';

/** Counts over many rigs. Roles are weighted so that each line counts alike: fingers must not drown the rest. */
export interface Tally {
  rigs: number;
  truthRoles: number;
  right: number;
  vacant: number;
  rightDoubtful: number;
  wrongDoubtful: number;
  wrongSure: number;
  swaps: number;
  extra: number;
  kindRight: number;
  spares: number;
  sparesRight: number;
  ms: number;
  readonly bins: { weight: number; confidence: number; right: number }[];
  brier: number;
  answers: number;
  /** The same for answers below 0.9 alone: the sure ones would drown them. */
  unsureBrier: number;
  unsureAnswers: number;
  /** Mean gap between confidence and share of right answers, over ten bins; `below` leaves out bins from there on. */
  calibration(below?: number): number;
}

export function emptyTally(): Tally {
  const bins = Array.from({ length: 10 }, () => ({ weight: 0, confidence: 0, right: 0 }));
  return {
    rigs: 0,
    truthRoles: 0,
    right: 0,
    vacant: 0,
    rightDoubtful: 0,
    wrongDoubtful: 0,
    wrongSure: 0,
    swaps: 0,
    extra: 0,
    kindRight: 0,
    spares: 0,
    sparesRight: 0,
    ms: 0,
    bins,
    brier: 0,
    answers: 0,
    unsureBrier: 0,
    unsureAnswers: 0,
    calibration(below = 1) {
      const counted = bins.slice(0, Math.round(below * 10));
      const total = counted.reduce((sum, bin) => sum + bin.weight, 0) || 1;
      return counted.reduce((sum, bin) => sum + (bin.weight > 0 ? Math.abs(bin.confidence - bin.right) : 0), 0) / total;
    },
  };
}

const lineOf = (role: string): string => QUAY_ROLES.get(role) ?? role;

function countAnswer(tally: Tally, confidence: number, isRight: boolean, weight: number): void {
  const bin = tally.bins[Math.min(9, Math.floor(confidence * 10))];
  bin.weight += weight;
  bin.confidence += weight * confidence;
  bin.right += isRight ? weight : 0;
  const squared = weight * (confidence - (isRight ? 1 : 0)) ** 2;
  tally.brier += squared;
  tally.answers += weight;
  if (confidence >= 0.9) return;
  tally.unsureBrier += squared;
  tally.unsureAnswers += weight;
}

export function score(tally: Tally, made: MadeRig, match: Match, ms: number, errors?: string[]): void {
  const wanted = new Map<string, number>();
  made.truth.forEach((truth, bone) => {
    if (QUAY_ROLES.has(truth)) wanted.set(truth, bone);
  });
  const lineSizes = new Map<string, number>();
  for (const role of wanted.keys()) lineSizes.set(lineOf(role), (lineSizes.get(lineOf(role)) ?? 0) + 1);
  const weightOf = (role: string): number => 1 / (lineSizes.get(lineOf(role)) ?? 1);
  tally.rigs++;
  tally.ms += ms;
  if (match.creature.isHumanoid) tally.kindRight++;
  else errors?.push(`NOT HUMANOID (${match.creature.reasons[0]})`);
  for (const [role, bone] of wanted) {
    const weight = weightOf(role);
    tally.truthRoles += weight;
    const found = match.assignments[role];
    if (!found) {
      tally.vacant += weight;
      errors?.push(`${role} vacant`);
      continue;
    }
    const isRight = found.boneIndex === bone;
    const isSwapped =
      !isRight && wanted.get(mirrorRole(QUAY, role)) === found.boneIndex && mirrorRole(QUAY, role) !== role;
    countAnswer(tally, found.confidence, isRight, weight);
    if (isRight) {
      tally.right += weight;
      if (found.state === 'doubtful') tally.rightDoubtful += weight;
    } else {
      if (found.state === 'doubtful') tally.wrongDoubtful += weight;
      else tally.wrongSure += weight;
      errors?.push(
        `${role} is ${made.truth[found.boneIndex]} ${made.rig.bones[found.boneIndex].name} ${found.confidence.toFixed(2)}`,
      );
      // A figure whose sides cannot be told must be doubtful; then a swap is no error of its own.
      if (isSwapped && found.state === 'proposed') tally.swaps++;
    }
  }
  for (const found of Object.values(match.assignments)) {
    if (wanted.has(found.role)) continue;
    tally.extra++;
    // An answer for a role that the figure does not have is a wrong answer too.
    countAnswer(tally, found.confidence, false, weightOf(found.role));
    errors?.push(`extra ${found.role} = ${made.truth[found.boneIndex]} ${found.confidence.toFixed(2)}`);
  }
  for (const spare of match.spares) {
    const truth = made.truth[spare.boneIndex];
    if (!truth.startsWith('spare:')) continue;
    tally.spares++;
    if (truth === `spare:${spare.kind}`) tally.sparesRight++;
  }
}
