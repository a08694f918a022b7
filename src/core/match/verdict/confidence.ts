import type { BodyHypothesis } from '../body/search';
import type { Sided } from '../limbs/limbs';

/**
 * At or above this confidence a match is *proposed*, below it is *doubtful*. The one threshold of the matcher; what it
 * means in right and wrong answers is measured in `bench/match`.
 */
export const PROPOSED_THRESHOLD = 0.75;

/** Score difference at which one answer is e times as likely as another. */
const SCORE_TEMPERATURE = 0.38;

/** A part of the body as the search sees it: sides not told apart. */
export type PartKey =
  | 'hips'
  | 'spine'
  | 'chest'
  | 'upperChest'
  | 'neck'
  | 'head'
  | 'Shoulder'
  | 'UpperArm'
  | 'LowerArm'
  | 'Hand'
  | 'UpperLeg'
  | 'LowerLeg'
  | 'Foot';

const PARTS: readonly [PartKey, (hypothesis: BodyHypothesis) => Sided][] = [
  ['hips', (h) => [h.trunk.hips, h.trunk.hips]],
  ['spine', (h) => [h.trunk.spine, h.trunk.spine]],
  ['chest', (h) => [h.trunk.chest, h.trunk.chest]],
  ['upperChest', (h) => [h.trunk.upperChest, h.trunk.upperChest]],
  ['neck', (h) => [h.trunk.neck, h.trunk.neck]],
  ['head', (h) => [h.trunk.head, h.trunk.head]],
  ['Shoulder', (h) => h.arms.base],
  ['UpperArm', (h) => h.arms.upper],
  ['LowerArm', (h) => h.arms.lower],
  ['Hand', (h) => h.arms.end],
  ['UpperLeg', (h) => h.legs.upper],
  ['LowerLeg', (h) => h.legs.lower],
  ['Foot', (h) => h.legs.end],
];

export interface PartCandidate {
  /** -1, -1 stands for "vacant". */
  readonly bones: Sided;
  /** Best total score of any reading that puts these bones here (max-marginal). */
  readonly score: number;
  readonly probability: number;
}

/** For each part the different answers among the hypotheses, most likely first. */
export function rankParts(hypotheses: readonly BodyHypothesis[]): Map<PartKey, PartCandidate[]> {
  const ranked = new Map<PartKey, PartCandidate[]>();
  for (const [part, read] of PARTS) {
    const best = new Map<string, { bones: Sided; score: number }>();
    for (const hypothesis of hypotheses) {
      const bones = read(hypothesis);
      const key = `${Math.min(...bones)} ${Math.max(...bones)}`;
      const known = best.get(key);
      if (!known || hypothesis.score > known.score) best.set(key, { bones, score: hypothesis.score });
    }
    const entries = [...best.values()].sort((a, b) => b.score - a.score);
    const top = entries[0]?.score ?? 0;
    const weights = entries.map((entry) => Math.exp((entry.score - top) / SCORE_TEMPERATURE));
    const total = weights.reduce((sum, weight) => sum + weight, 0);
    ranked.set(
      part,
      entries.map((entry, at) => ({ ...entry, probability: weights[at] / total })),
    );
  }
  return ranked;
}
