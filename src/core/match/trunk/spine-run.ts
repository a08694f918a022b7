import type { MatchContext } from '../context/context';

/** A vacant required place on the centre line. */
const NO_SPINE = -2.5;

/** A bone called "root" that stands in the body: some rigs call their hips so, and what leads up from them. */
const ROOT_IN_TRUNK = -1;

/** How far a name speaks for hips or spine. */
export function trunkName(context: MatchContext, bone: number, concept: 'hips' | 'spine'): number {
  const { body, other } = context.names.bones[bone];
  const saysRootOnly = other.root !== undefined && Object.keys(other).length === 1 && Object.keys(body).length === 0;
  const score = context.nameScore(bone, concept);
  return saysRootOnly ? Math.max(score, ROOT_IN_TRUNK) : score;
}

interface SpineAnchors {
  readonly bones: readonly [spine: number, chest: number, upperChest: number];
  readonly chestCertainty: number;
  readonly score: number;
}

/** In a run of four or more the chest is expected this far up: nearer the ribs than the belt. */
export const CHEST_SHARE = 0.58;

/**
 * Which bones of the run are spine, chest and upper chest. One to three fill from the bottom up; longer runs keep the
 * first and the last and put the chest where its name or the middle of the run says.
 */
export function anchorSpine(context: MatchContext, run: readonly number[]): SpineAnchors {
  if (run.length === 0) return { bones: [-1, -1, -1], chestCertainty: 1, score: NO_SPINE };
  const whole = anchorRun(context, run);
  const firstNamed = run.findIndex((bone) => saysSpine(context, bone));
  const isNamed = firstNamed >= 0;
  const skipped = isNamed ? firstNamed : run.length >= LONG_RUN && startsInHips(context, run[0]) ? 1 : 0;
  if (skipped < 1) return whole;
  const named = anchorRun(context, run.slice(skipped));
  const score = named.score - (isNamed ? ABOVE_HIPS * skipped : 0);
  return score >= whole.score ? { ...named, score } : whole;
}

/** A spine, not a chest: that one may stand above bones of which the lowest is the spine, whatever it is called. */
function saysSpine(context: MatchContext, bone: number): boolean {
  const { spine = 0, chest = 0 } = context.names.bones[bone].body;
  return trunkName(context, bone, 'spine') > 0 && spine > chest;
}

/** Without names: a bone at its parent's own place is another one for the same joint, no vertebra above it. */
const startsInHips = ({ body, use }: MatchContext, bone: number): boolean =>
  use.place && body.lengths[bone] < body.size * IN_PLACE;
const IN_PLACE = 1e-3;
/** Motion files put the first vertebra into the hips; only where enough others follow it is one bone too many. */
const LONG_RUN = 5;

/** What each bone costs that stands between the hips and the first bone called a spine. */
const ABOVE_HIPS = 0.8;

function anchorRun(context: MatchContext, run: readonly number[]): SpineAnchors {
  const first = spineName(context, run[0], 0);
  if (run.length === 1) return { bones: [run[0], -1, -1], chestCertainty: 1, score: first };
  if (run.length === 2)
    return { bones: [run[0], run[1], -1], chestCertainty: 1, score: first + spineName(context, run[1], 1) };
  const last = run.length - 1;
  const options = run
    .slice(1, last)
    .map((bone, at) => ({ bone, score: spineName(context, bone, 1) - Math.abs((at + 1) / last - CHEST_SHARE) * 8 }));
  options.sort((a, b) => b.score - a.score);
  const weights = options.map((option) => Math.exp(option.score - options[0].score));
  const lengthCost = -0.25 * (run.length - 3);
  return {
    bones: [run[0], options[0].bone, run[last]],
    chestCertainty: 1 / weights.reduce((sum, weight) => sum + weight, 0),
    score: first + spineName(context, options[0].bone, 1) + spineName(context, run[last], 2) + lengthCost,
  };
}

/** "spine" and "chest" are used for one another: a lesser word for the place still counts. */
function spineName(context: MatchContext, bone: number, place: 0 | 1 | 2): number {
  const [spine, chest] = [trunkName(context, bone, 'spine'), context.nameScore(bone, 'chest')];
  if (place === 0) return Math.max(spine, chest > 0 ? chest * 0.4 : spine);
  if (spine > 0 && chest <= 0) return spine * 0.65;
  const isUpper = context.names.bones[bone].modifier === 'upper';
  return chest > 0 ? chest * (isUpper === (place === 2) ? 1 : 0.8) : chest;
}
