import {
  add,
  angleBetween,
  cross,
  dot,
  lengthOf,
  mean,
  normalise,
  reject,
  scale,
  subtract,
  type Vec3,
} from '../../math/vec3';
import type { MatchContext } from '../context/context';
import { bendAlong, limbDirection, limbTip, type Limb, type Sided } from '../limbs/limbs';
import type { DigitMatch } from '../digits/digits';
import { foldAlong, travelOf } from '../witness/limb-motion';
import type { BodyHypothesis } from './search';
import { trunkFrame } from '../trunk/trunk-frame';

/** Axes of the body in file space. left = up x facing. */
export interface Orientation {
  readonly up: Vec3;
  readonly facing: Vec3;
  readonly left: Vec3;
  /** 0 when `a` sides are the left ones, 1 when `b` sides are, per limb kind. */
  readonly leftOfLegs: 0 | 1;
  readonly leftOfArms: 0 | 1;
  /** Probability that left and right are told right. */
  readonly confidence: number;
  /** True when the names say the opposite of what the body shows. */
  readonly namesAreSwapped: boolean;
  /** What decided, strongest first, as sentences. */
  readonly reasons: readonly string[];
}

interface Vote {
  /** Positive for facing along `forward`. */
  readonly weight: number;
  readonly reason: string;
  readonly isName: boolean;
}

const clamp1 = (value: number): number => Math.max(-1, Math.min(1, value));
/** A front that a person set decides by itself. */
const GIVEN_WEIGHT = 12;
/** Geometry must be this strong to overrule names that agree. */
const STRONG_GEOMETRY = 5.5;

/** Most that the sides can be sure where names and body contradict one another; below what is proposed. */
const CONTRADICTED = 0.7;

/** So much names weigh that agree with each other. */
const AGREEING_NAMES = 3;

/** Tells front from back, and so left from right, from everything that shows it. */
export function orientBody(context: MatchContext, best: BodyHypothesis, digits: readonly DigitMatch[]): Orientation {
  const frame = trunkFrame(context, best.legs, best.arms);
  const normal = context.mirror.normal;
  const up = normalise(reject(frame.axis ?? context.fileUp, normal)) ?? context.fileUp;
  const forward = normalise(cross(normal, up)) as Vec3;
  const shown = geometryVotes(context, best, digits, forward, up);
  const named = nameVotes(context, best);
  // Clips are asked where the figure at rest leaves the front open.
  const moved = Math.abs(sum(shown)) < STRONG_GEOMETRY ? motionVotes(context, best, forward, up) : [];
  const votes = [...shown, ...named, ...moved, ...fileVotes(context, forward)];
  const byGeometry = sum(votes.filter((vote) => !vote.isName));
  const byNames = sum(votes.filter((vote) => vote.isName));
  const given = context.givenFront ? dot(context.givenFront, forward) : 0;
  const isGiven = Math.abs(given) > 0.3;
  const namesAreSwapped = isGiven
    ? given * byNames < 0 && Math.abs(byNames) >= AGREEING_NAMES
    : byGeometry * byNames < 0 && Math.abs(byGeometry) > STRONG_GEOMETRY && Math.abs(byGeometry) > Math.abs(byNames);
  // Weak geometry does not overrule names that agree with each other.
  const decided = isGiven
    ? given * GIVEN_WEIGHT
    : Math.abs(byNames) >= AGREEING_NAMES && !namesAreSwapped
      ? byNames + clamp1(byGeometry / 3) * 1.5
      : byGeometry + byNames;
  const sign = decided >= 0 ? 1 : -1;
  const left = scale(normal, sign);
  const sideOf = (pair: Sided): 0 | 1 =>
    context.mirror.lateral[pair[0]] * sign >= context.mirror.lateral[pair[1]] * sign ? 0 : 1;
  // Names against the body: one of them is wrong, and only a person knows which.
  const most = namesAreSwapped && !isGiven ? CONTRADICTED : 1;
  const confidence = Math.min(most, 1 / (1 + Math.exp(-Math.abs(decided))));
  return {
    up,
    facing: scale(forward, sign),
    left,
    leftOfLegs: sideOf(best.legs.upper),
    leftOfArms: sideOf(best.arms.upper),
    confidence,
    namesAreSwapped,
    reasons: votes
      .filter((vote) => vote.weight * sign > 0.25)
      .sort((a, b) => Math.abs(b.weight) - Math.abs(a.weight))
      .map((vote) => vote.reason),
  };
}

const sum = (votes: readonly Vote[]): number => votes.reduce((total, vote) => total + vote.weight, 0);

/** How knees and elbows fold, and which way the figure goes, in the clips of the file. */
function motionVotes(context: MatchContext, { legs, arms, trunk }: BodyHypothesis, forward: Vec3, up: Vec3): Vote[] {
  const witness = context.witness();
  if (!witness || trunk.hips < 0) return [];
  const votes: Vote[] = [];
  const fold = (limb: Limb): number => {
    if (limb.lower[0] < 0) return 0;
    const sides = ([0, 1] as const).map((side) =>
      foldAlong(
        witness,
        { upper: limb.upper[side], lower: limb.lower[side], end: limb.end[side], body: trunk.hips },
        forward,
      ),
    );
    return (sides[0] + sides[1]) / 2;
  };
  const add2 = (weight: number, reason: string) => votes.push({ weight, reason, isName: false });
  add2(4 * clamp1(beyond(fold(legs), 0.01) / 0.04), 'in the clips the knees fold with their joints ahead');
  add2(-2.5 * clamp1(beyond(fold(arms), 0.01) / 0.04), 'in the clips the elbows fold with their joints behind');
  const travel = reject(travelOf(witness, trunk.hips), up);
  add2(
    2.5 * clamp1(beyond(dot(travel, forward) / (context.body.size || 1), 0.2) / 0.3),
    'in the clips the figure goes forward',
  );
  return votes;
}

/** What is left of a value beyond a threshold, with its sign. */
const beyond = (value: number, least: number): number => Math.sign(value) * Math.max(0, Math.abs(value) - least);

function geometryVotes(
  context: MatchContext,
  best: BodyHypothesis,
  digits: readonly DigitMatch[],
  forward: Vec3,
  up: Vec3,
): Vote[] {
  const { legs, arms, trunk } = best;
  const { body } = context;
  const votes: Vote[] = [];
  const add2 = (weight: number, reason: string) => votes.push({ weight, reason, isName: false });
  if (legs.end[0] >= 0) {
    const toes = legs.end.map((foot) => footDirection(context, foot, up));
    const ahead = toes.reduce((total, direction) => total + dot(direction, forward), 0) / 2;
    add2(6 * clamp1(ahead / 0.6), 'the toes point forward');
    const bulge = legs.end.map((foot) => {
      const centre = context.rig.bones[foot].skinCentre;
      return centre ? dot(subtract(centre, body.positions[foot]), forward) / body.size : 0;
    });
    add2(3 * clamp1((bulge[0] + bulge[1]) / 2 / 0.025), 'the feet lie ahead of the ankles');
    add2(1.4 * bendVote(context, legs, forward), 'the knees bend forward');
  }
  add2(-1.2 * bendVote(context, arms, forward), 'the elbows bend backward');
  add2(2 * reachVote(context, legs, forward), 'the knees lie ahead of the hips, as in sitting');
  add2(2 * reachVote(context, arms, forward), 'the arms reach forward');
  const thumb = digits.find((digit) => digit.digit === 'Thumb');
  if (thumb && thumb.confidence > 0.6 && thumb.segments.length > 1) {
    const ahead = ([0, 1] as const).map((side) => {
      const bones = thumb.segments.map((segment) => segment[side]).filter((bone) => bone >= 0);
      const direction =
        bones.length > 1
          ? normalise(subtract(body.positions[bones[bones.length - 1]], body.positions[bones[0]]))
          : null;
      return direction ? dot(direction, forward) : 0;
    });
    add2(1.6 * clamp1((ahead[0] + ahead[1]) / 2 / 0.4), 'the thumbs point forward');
  }
  if (trunk.head >= 0) {
    const centre = context.rig.bones[trunk.head].skinCentre;
    if (centre)
      add2(
        0.8 * clamp1(dot(subtract(centre, body.positions[trunk.head]), forward) / (0.03 * body.size)),
        'the face lies ahead of the neck',
      );
    add2(3 * clamp1(namedBelowHead(context, trunk.head, forward) / 0.02), 'eyes and jaw lie ahead of the head');
    const { ahead, count } = smallOnHead(context, trunk.head, forward);
    add2(Math.min(2, 0.4 * count) * clamp1(ahead / 0.03), 'the small bones of the face lie ahead of the head');
  }
  return votes;
}

/** A joint that lies off its limb's line by less than this share of the limb may as well be straight. */
const STRAIGHT = 0.01;

/** 0 for straight limbs, ±1 for a clear bend along a direction, up to ±1.7 for a strong one. */
function bendVote(context: MatchContext, limb: Limb, direction: Vec3): number {
  const bend = (bendAlong(context, limb, 0, direction) + bendAlong(context, limb, 1, direction)) / 2;
  const line = normalise(limbDirection(context, limb));
  // Along the limb's own line a joint cannot lie off it: what is left of the direction counts.
  const across = line ? Math.sqrt(Math.max(0, 1 - dot(line, direction) ** 2)) : 1;
  const clear = beyond(bend, STRAIGHT);
  return across * (clamp1(clear / 0.03) + 0.7 * clamp1(beyond(clear, 0.02) / 0.06));
}

/** Limbs reach ahead of the body or stay beside it, hardly ever behind; this share of a limb's length says nothing. */
const BESIDE = 0.15;

/** ±1 where the first part of a leg, or a whole arm, leads ahead or back on both sides. */
function reachVote(context: MatchContext, limb: Limb, forward: Vec3): number {
  const to = limb.kind === 'arm' ? limbTip(limb) : limb.lower;
  if (limb.length === 0 || to[0] < 0) return 0;
  const sides = ([0, 1] as const).map(
    (side) =>
      dot(subtract(context.body.positions[to[side]], context.body.positions[limb.upper[side]]), forward) / limb.length,
  );
  // In a step or a swing the sides lead opposite ways.
  const least = sides[0] * sides[1] <= 0 ? 0 : Math.min(...sides.map(Math.abs)) * Math.sign(sides[0]);
  return Math.sign(least) * clamp1(Math.max(0, Math.abs(least) - BESIDE) / 0.35);
}

/** How far single bones on the head (eyes, brows, lips) lie ahead of it on average, as a share of the rig's size, and how many there are. */
function smallOnHead({ body }: MatchContext, head: number, forward: Vec3): { ahead: number; count: number } {
  const small = body.children[head].filter((bone) => body.children[bone].length === 0);
  const ahead = mean(small.map((bone) => subtract(body.positions[bone], body.positions[head])));
  return small.length > 1 ? { ahead: dot(ahead, forward) / body.size, count: small.length } : { ahead: 0, count: 0 };
}

/** From the ankle to the farthest toe, its part across the up axis, unit length; zero when nothing follows the foot. */
function footDirection(context: MatchContext, foot: number, up: Vec3): Vec3 {
  const { body } = context;
  let farthest: Vec3 = [0, 0, 0];
  const visit = (bone: number, depth: number) => {
    for (const child of body.children[bone]) {
      const across = reject(subtract(body.positions[child], body.positions[foot]), up);
      // Heel bones and twist bones lie under the ankle: only what reaches out counts.
      if (lengthOf(across) > lengthOf(farthest) && context.nameScore(child, 'toes') > -3.4) farthest = across;
      if (depth < 3) visit(child, depth + 1);
    }
  };
  visit(foot, 0);
  if (body.children[foot].length === 0) return pointedDirection(context, foot, up);
  const shin = body.lengths[foot];
  const length = lengthOf(farthest);
  return length > 0.08 * shin ? scale(farthest, 1 / length) : [0, 0, 0];
}

/** Where a foot without toes points by its own axis, its part across the up axis; zero where it says nothing. */
function pointedDirection(context: MatchContext, foot: number, up: Vec3): Vec3 {
  const pointed = context.directions?.[foot];
  const shin = subtract(context.body.positions[foot], context.body.positions[context.body.parents[foot]]);
  // A bone that goes on as its shin does was given no direction of its own.
  const across = pointed && angleBetween(pointed, shin) > OFF_SHIN_RAD ? reject(pointed, up) : ([0, 0, 0] as Vec3);
  return lengthOf(across) > LEVEL_FOOT ? (normalise(across) ?? [0, 0, 0]) : [0, 0, 0];
}
/** Least level part of a direction that is a foot's and not a shin's. */
const LEVEL_FOOT = 0.4;
const OFF_SHIN_RAD = 0.6;

function namedBelowHead(context: MatchContext, head: number, forward: Vec3): number {
  const { body } = context;
  let total: Vec3 = [0, 0, 0];
  let count = 0;
  for (const child of body.children[head]) {
    const { body: parts, other } = context.names.bones[child];
    if ((parts.eye ?? 0) + (parts.jaw ?? 0) + (other.face ?? 0) < 0.8) continue;
    total = add(total, subtract(body.positions[child], body.positions[head]));
    count++;
  }
  return count > 0 ? dot(total, forward) / count / body.size : 0;
}

/** Side marks of the limbs' own names against the side on which the bones lie. */
function nameVotes(context: MatchContext, best: BodyHypothesis): Vote[] {
  let balance = 0;
  let count = 0;
  for (const pair of [
    best.legs.upper,
    best.legs.lower,
    best.legs.end,
    best.arms.base,
    best.arms.upper,
    best.arms.lower,
    best.arms.end,
  ]) {
    for (const bone of pair) {
      const side = bone >= 0 ? (context.stated.get(bone)?.side ?? context.names.bones[bone].side) : null;
      if (!side) continue;
      count++;
      balance += (side === 'left' ? 1 : -1) * Math.sign(lateralOf(context, best, bone));
    }
  }
  if (count === 0) return [];
  return [
    { weight: 6 * (balance / count) * Math.min(1, count / 4), reason: 'the names say left and right', isName: true },
  ];
}

/** A bone near the plane takes the side of its own limb's upper joint. */
function lateralOf(context: MatchContext, best: BodyHypothesis, bone: number): number {
  const { lateral } = context.mirror;
  for (const limb of [best.legs, best.arms]) {
    for (const side of [0, 1] as const) {
      if ([limb.base, limb.upper, limb.lower, limb.end].some((pair) => pair[side] === bone)) {
        return lateral[limb.upper[side]] - lateral[limb.upper[1 - side]];
      }
    }
  }
  return lateral[bone];
}

/** The front that goes with the file's up axis by convention, a weak hint. */
const fileVotes = ({ fileFront }: MatchContext, forward: Vec3): Vote[] =>
  fileFront
    ? [{ weight: 0.7 * dot(fileFront, forward), reason: 'the front lies where it does in most files', isName: false }]
    : [];
