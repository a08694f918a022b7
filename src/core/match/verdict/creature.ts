import {
  angleBetween,
  distance,
  dot,
  lengthOf,
  mean,
  normalise,
  reject,
  scale,
  subtract,
  type Vec3,
} from '../../math/vec3';
import { commonAncestor } from '../../rig/rig-shape';
import type { MatchContext } from '../context/context';
import { farthestBelow, limbTip, limbTop, middleOf, type Limb, type Sided } from '../limbs/limbs';
import { isPaired } from '../mirror/mirror';
import { strongestPart } from '../names/name-score';
import { PEOPLE, scoreTogether, type BodyHypothesis } from '../body/search';
import { trunkFrame } from '../trunk/trunk-frame';

type CreatureKind = 'humanoid' | 'four-legged' | 'bird' | 'level-backed' | 'partial' | 'prop';

export interface Creature {
  readonly kind: CreatureKind;
  readonly isHumanoid: boolean;
  /** Sentences, the deciding one first. */
  readonly reasons: readonly string[];
}

const RIGHT_ANGLE = Math.PI / 2;

/** Two arms, two legs, a head, upright in its own frame: or why not. */
export function judgeCreature(
  context: MatchContext,
  best: BodyHypothesis | undefined,
  limbs: { legs: readonly Limb[]; arms: readonly Limb[] },
): Creature {
  if (context.rig.bones.length === 0) return no('prop', 'there is no skeleton in the file');
  if (context.rig.bones.length < 8 && !isNamedToy(context, best))
    return no('prop', `${context.rig.bones.length} bones are too few for two arms, two legs and a head`);
  const words = countWords(context);
  if (!best) {
    const missing =
      limbs.legs.length === 0 && limbs.arms.length === 0
        ? 'no pair of limbs was found'
        : 'only one pair of limbs was found';
    return no(
      limbs.legs.length + limbs.arms.length > 0 ? 'partial' : 'prop',
      `${missing}; two arms and two legs are needed`,
    );
  }
  if (words.pairedLimbs >= 4)
    return no('four-legged', `${words.pairedLimbs} limb bones are named as front and hind ones`);
  if (words.animal >= 3 && !standsUpright(context, best))
    return (
      (judgeStance(context, best) ? null : judgeNeck(context, best)) ??
      no('four-legged', `${words.animal} bones are named after parts of an animal`)
    );
  if (words.wing >= 2 && words.hand === 0) return no('bird', `${words.wing} bones are named as wings, none as hands`);
  if (words.vehicle >= Math.max(3, MACHINE_SHARE * context.rig.bones.length) && words.body < 6)
    return no('prop', `${words.vehicle} bones are named after parts of a machine`);
  // Animals are often given the names of a person's limbs; fingers they do not have.
  const isHanded = words.hand >= 2 && (words.digit >= 4 || hasFingers(context, best));
  const stance = isHanded ? null : judgeStance(context, best);
  if (stance) return stance;
  if (words.hand < 2 || words.animal + words.wing > 0) {
    const shape =
      judgeStar(context, best, limbs.legs) ?? judgeLimbCount(context, best, limbs.legs) ?? judgeNeck(context, best);
    if (shape) return shape;
  }
  const level = judgeBalance(context, best);
  if (level) return level;
  if (best.trunk.head < 0) return no('partial', 'no head was found above the arms');
  const plausible =
    best.score - best.jointScore + scoreTogether(context, trunkFrame(context, best.legs, best.arms), PEOPLE);
  if (plausible < NOT_A_BODY - forOneBoneLimbs(best) && words.body < 6) {
    return no('prop', 'its pairs of chains do not have the proportions of arms and legs');
  }
  const reasons = ['two arms, two legs and a head were found'];
  if (words.tail > 0) reasons.push('it has a tail, which is left aside');
  return { kind: 'humanoid', isHumanoid: true, reasons };
}

/** A head and four limbs of a single bone that are called so are a figure, however few bones. */
const isNamedToy = ({ names }: MatchContext, best: BodyHypothesis | undefined): boolean =>
  names.bones.some((reading) => strongestPart(reading) !== null) &&
  best !== undefined &&
  best.trunk.head >= 0 &&
  best.legs.lower[0] < 0 &&
  best.arms.lower[0] < 0;

/** Total score of a body below which chains are only chains. Names add to it, so an opaque rig starts lower. */
const NOT_A_BODY = -9;

/** What a pair of limbs of one bone each lacks against a whole one; that it stands for a limb is judged by the rest. */
const ONE_BONE = 4;

const forOneBoneLimbs = ({ legs, arms }: BodyHypothesis): number =>
  [legs, arms].filter((limb) => limb.lower[0] < 0 && limb.end[0] < 0).length * ONE_BONE;

/** Least share of the bones that is named after parts of a machine in one. */
const MACHINE_SHARE = 0.08;

const no = (kind: CreatureKind, reason: string): Creature => ({ kind, isHumanoid: false, reasons: [reason] });

const LIMB_PARTS = ['upperLeg', 'lowerLeg', 'foot', 'toes', 'upperArm', 'lowerArm', 'hand'] as const;

const FINGER_PARTS = ['thumb', 'index', 'middle', 'ring', 'little', 'finger'] as const;

interface WordCounts {
  animal: number;
  /** Limb bones with a word for front or hind. */
  pairedLimbs: number;
  wing: number;
  vehicle: number;
  tail: number;
  hand: number;
  /** Bones called a thumb or a finger: two on each hand are more than a paw has. */
  digit: number;
  body: number;
}

function countWords(context: MatchContext): WordCounts {
  const counts: WordCounts = { animal: 0, pairedLimbs: 0, wing: 0, vehicle: 0, tail: 0, hand: 0, digit: 0, body: 0 };
  for (const { other, body } of context.names.bones) {
    for (const word of ['animal', 'wing', 'vehicle', 'tail'] as const) if ((other[word] ?? 0) >= 0.8) counts[word]++;
    if ((other.animal ?? 0) >= 0.4 && LIMB_PARTS.some((part) => (body[part] ?? 0) >= 0.5)) counts.pairedLimbs++;
    if ((body.hand ?? 0) >= 0.8 || (body.finger ?? 0) >= 0.8) counts.hand++;
    if (FINGER_PARTS.some((part) => (body[part] ?? 0) >= 0.8)) counts.digit++;
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
  const longest = Math.max(lengthOf(legLine), lengthOf(armLine)) || 1;
  const heightBetween = Math.abs(dot(reject(tips, frame.axis), legs)) / longest;
  // A person who leans far forward lets the arms hang, but not down to the feet.
  const isOnGround = Math.abs(dot(tips, legs)) / longest < 0.6;
  // Arms and legs of a figure that sits and holds a wheel lead ahead alike, but its trunk stands and its legs lie.
  const sits =
    dot(frame.axis, context.fileUp) > 0.8 &&
    Math.abs(dot(legs, context.fileUp)) < 0.5 &&
    handsDifferFromFeet(context, best);
  if (
    !sits &&
    together < 0.6 &&
    legsAcross < 0.7 &&
    armsAcross < 0.7 &&
    heightBetween < 0.4 &&
    isOnGround &&
    isNarrow(context, best.arms)
  ) {
    return no('four-legged', 'both pairs of limbs hang side by side below a level trunk and end at the same height');
  }
  return null;
}

/** More bones leave the hands than the feet: fore and hind paws are alike. */
function handsDifferFromFeet({ body }: MatchContext, { arms, legs }: BodyHypothesis): boolean {
  const branches = (bone: number) => (bone < 0 ? 0 : body.children[bone].length);
  return ([0, 1] as const).every(
    (side) => branches(arms.end[side]) >= 2 && branches(arms.end[side]) > branches(legs.end[side]),
  );
}

/** Legs that go on where the trunk ends may have paws: many a figure stands like a person and is called after an animal. */
const UPRIGHT_RAD = 0.7;

function standsUpright(context: MatchContext, best: BodyHypothesis): boolean {
  const { axis } = trunkFrame(context, best.legs, best.arms);
  const legs = normalise(limbLine(context, best.legs));
  return best.trunk.head >= 0 && axis !== null && legs !== null && angleBetween(legs, scale(axis, -1)) < UPRIGHT_RAD;
}

/** A level trunk on two legs with a tail behind that balances it, as some great lizards walk. */
function judgeBalance(context: MatchContext, best: BodyHypothesis): Creature | null {
  const { axis, length } = trunkFrame(context, best.legs, best.arms);
  const legs = normalise(limbLine(context, best.legs));
  if (!axis || !legs || Math.abs(angleBetween(legs, axis) - RIGHT_ANGLE) > 0.6) return null;
  const { positions, children, tips } = context.body;
  const back = scale(axis, -1);
  const hasTail = children[best.trunk.hips].some((child) => {
    const along = subtract(positions[tips[child]], positions[best.trunk.hips]);
    return !isPaired(context.mirror, child) && lengthOf(along) > 0.6 * length && angleBetween(along, back) < 0.7;
  });
  return hasTail ? no('level-backed', 'its trunk is level on two legs, and a tail behind them balances it') : null;
}

/** From the upper joint to the very end, toes and fingers included: what it is however much of it was matched. */
const limbLine = (context: MatchContext, limb: Limb): Vec3 =>
  subtract(tipOf(context, limbTip(limb)), middleOf(context, limb.upper));

const tipOf = (context: MatchContext, pair: Sided): Vec3 => mean(pair.map((bone) => farthestBelow(context, bone)));

/**
 * Neck and head longer than the trunk, over forelimbs that end without fingers. A large head with its end bone does not
 * make a long neck: the bones must be many, and each farther out than the one before, as hanging hair is not.
 */
function judgeNeck(context: MatchContext, best: BodyHypothesis): Creature | null {
  const frame = trunkFrame(context, best.legs, best.arms);
  const { positions, children, reaches, lengths } = context.body;
  const armBranch = commonAncestor(context.body, ...limbTop(best.arms));
  if (armBranch < 0 || frame.length === 0) return null;
  // Whatever was taken for the head: the longest way up from the arms that is no arm.
  const longest = (bones: readonly number[]): number | undefined =>
    bones
      .filter((bone) => !best.arms.bones.includes(bone) && !isPaired(context.mirror, bone))
      .sort((a, b) => reaches[b] + lengths[b] - reaches[a] - lengths[a])[0];
  const neck = longest(children[armBranch]);
  if (neck === undefined) return null;
  const away: number[] = [];
  // What comes in pairs is no neck: ears, hair, a limb.
  for (let bone: number | undefined = neck; bone !== undefined; bone = longest(children[bone]))
    away.unshift(distance(positions[bone], frame.armCentre));
  const isOneWay = away.length >= LONG_NECK_BONES && !turnsBack(away);
  const ratio = away[0] / frame.length;
  const hands = best.arms.end[0] >= 0 ? context.body.children[best.arms.end[0]].length : 0;
  return isOneWay && ratio > LONG_NECK && hands < 2
    ? no('bird', `neck and head are ${ratio.toFixed(1)} times as long as the trunk and the forelimbs have no fingers`)
    : null;
}

/** Distances from the arms, from the end of a neck back to its start: true where it comes nearer and leaves again. */
function turnsBack(away: readonly number[]): boolean {
  let nearest = Infinity;
  for (const value of away) {
    if (value > nearest + TURNED_BACK * away[0]) return true;
    nearest = Math.min(nearest, value);
  }
  return false;
}

const LONG_NECK = 1.2;
const LONG_NECK_BONES = 4;
/** A head may hang back by this share of the whole. */
const TURNED_BACK = 0.2;

/** Three chains or more that leave a hand. */
function hasFingers({ body }: MatchContext, { arms }: BodyHypothesis): boolean {
  return (
    arms.end[0] >= 0 &&
    arms.end.some((hand) => body.children[hand].filter((child) => body.subtreeCounts[child] >= 2).length >= 3)
  );
}

/** Further limbs within this share of the legs' length count as legs. */
const ALIKE_LEG = 0.2;

/** More than two pairs of limbs of the legs' own length: an insect, a spider, a machine. */
function judgeLimbCount(context: MatchContext, best: BodyHypothesis, legs: readonly Limb[]): Creature | null {
  // Strips of cloth and hair come in many pairs too, but hang on a figure that stands on its two legs, or are short.
  if (standsUpright(context, best) || best.legs.length < 0.9 * trunkFrame(context, best.legs, best.arms).length)
    return null;
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

/** Three pairs of limbs or more, alike in length and bones, that leave one bone: legs of an insect or a walking machine. */
function judgeStar(context: MatchContext, { arms }: BodyHypothesis, legs: readonly Limb[]): Creature | null {
  const { parents } = context.body;
  const whole = legs.filter(({ lower, end }) => lower[0] >= 0 && end[0] >= 0);
  for (const first of whole) {
    const from = parents[first.upper[0]];
    if (from < 0 || parents[first.upper[1]] !== from) continue;
    const used = new Set<number>();
    let pairs = 0;
    for (const limb of whole) {
      const leavesHere = limb.upper.every((bone) => parents[bone] === from);
      const isAlike = Math.abs(limb.length / first.length - 1) < ALIKE_LEG;
      if (!leavesHere || !isAlike || limb.bones.some((bone) => used.has(bone))) continue;
      limb.bones.forEach((bone) => used.add(bone));
      pairs++;
    }
    // Strips of a skirt leave one bone too, but the arms are none of them.
    if (pairs >= 3 && arms.bones.every((bone) => used.has(bone)))
      return no('partial', `${pairs} pairs of limbs of the same length leave one bone`);
  }
  return null;
}

/** The limbs go down, not out: their ends are hardly farther apart than their roots. */
function isNarrow(context: MatchContext, arms: Limb): boolean {
  const { lateral } = context.mirror;
  const gap = (pair: readonly [number, number]) => Math.abs(lateral[pair[0]] - lateral[pair[1]]);
  return gap(limbTip(arms)) < gap(arms.upper) + 0.5 * arms.length;
}
