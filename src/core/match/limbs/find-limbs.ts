import type { BodyConcept } from '../../dialect/concepts';
import { distance } from '../../math/vec3';
import type { MatchContext } from '../context/context';
import { strongestPart } from '../names/name-score';
import { jointEvidence } from './joint-evidence';
import type { LimbPath, Turn } from './limb-path';
import { bell, NONE, type Limb, type LimbKind, type Sided } from './limbs';

/** What names call the joints of a limb. */
const CONCEPTS: Record<LimbKind, { base: BodyConcept; upper: BodyConcept; lower: BodyConcept; end: BodyConcept }> = {
  arm: { base: 'shoulder', upper: 'upperArm', lower: 'lowerArm', end: 'hand' },
  leg: { base: 'hips', upper: 'upperLeg', lower: 'lowerLeg', end: 'foot' },
};

const MAX_LIMBS = 48;

/** All plausible limbs of a kind along the given paths, best first. */
export function findLimbs(context: MatchContext, kind: LimbKind, paths: readonly LimbPath[]): Limb[] {
  const shortlist = new Shortlist();
  for (const path of paths) readPath(context, kind, path, shortlist);
  return shortlist.readings.map(limbOf);
}

/** The best readings so far, best first. Ties go to the longer limb: never to index order alone. */
class Shortlist {
  readonly readings: Reading[] = [];

  /** True where a reading that scores no more than this cannot be among the best. */
  isBeyond(mostPossible: number): boolean {
    return this.readings.length === MAX_LIMBS && mostPossible < this.readings[MAX_LIMBS - 1].score;
  }

  add(reading: Reading): void {
    let at = this.readings.length;
    while (at > 0 && isBetter(reading, this.readings[at - 1])) at--;
    if (at === MAX_LIMBS) return;
    this.readings.splice(at, 0, reading);
    if (this.readings.length > MAX_LIMBS) this.readings.pop();
  }
}

const isBetter = (x: Reading, y: Reading): boolean => x.score > y.score || (x.score === y.score && x.length > y.length);

/** Joints of a limb as places on a path; -1 for none. */
interface Anchors {
  readonly base: number;
  readonly upper: number;
  readonly lower: number;
  readonly end: number;
}

/** One way to see a limb on a path: kept small, since there are thousands of which few are used. */
interface Reading {
  readonly kind: LimbKind;
  readonly path: LimbPath;
  readonly anchors: Anchors;
  readonly score: number;
  readonly length: number;
}

function limbOf({ kind, path, anchors, score, length }: Reading): Limb {
  const at = (index: number): Sided => (index < 0 ? NONE : path.pairs[index]);
  const [base, upper, lower, end] = [at(anchors.base), at(anchors.upper), at(anchors.lower), at(anchors.end)];
  return {
    kind,
    base,
    upper,
    lower,
    end,
    bones: [...base, ...upper, ...lower, ...end].filter((bone) => bone >= 0),
    score,
    length,
  };
}

function readPath(context: MatchContext, kind: LimbKind, path: LimbPath, shortlist: Shortlist): void {
  const last = path.pairs.length - 1;
  const facts = factsOf(context, kind, path);
  const consider = (anchors: Anchors) => {
    const plain = scoreWithoutPlace(context, path, facts, anchors);
    if (!shortlist.isBeyond(plain + MOST_BY_PLACE))
      shortlist.add({ kind, path, anchors, ...addPlace(context, kind, path, anchors, plain) });
  };
  // True where no further branching tree follows: the bone can be the last of a limb.
  const canEnd = context.body.subtreeCounts[path.pairs[last][0]] <= 3;
  for (let upper = 0; upper <= last - 1; upper++) {
    for (let base = kind === 'arm' ? upper - 1 : -1; base >= -1; base--) {
      for (let lower = upper + 1; lower < last; lower++) consider({ base, upper, lower, end: last });
      // Limbs with one bone missing: no hand or foot, or no knee or elbow.
      if (canEnd) consider({ base, upper, lower: last, end: -1 });
      if (upper === last - 1) consider({ base, upper, lower: -1, end: last });
    }
  }
  // Toys have a single bone for a whole limb: a name says so, or there are too few bones for more.
  const isOnlyBone =
    facts.names.upper[last] >= SAYS_LIMB || (facts.isToy && path.pairs.every((pair) => moveBoth(context, pair)));
  if (canEnd && isOnlyBone) {
    consider({ base: -1, upper: last, lower: -1, end: -1 });
    if (kind === 'arm' && last > 0) consider({ base: last - 1, upper: last, lower: -1, end: -1 });
  }
}

/** Least that the names of a pair must speak for an arm or a leg where the pair is all there is of it. */
const SAYS_LIMB = 2;

/** A rig without words of at most this many bones may have one for a whole limb. */
const TOY_BONES = 16;

const moveBoth = (context: MatchContext, pair: Sided): boolean => pair.every((bone) => context.moves(bone));

/** What each pair of a path is worth in each place of a limb. */
interface PathFacts {
  readonly names: Readonly<Record<'base' | 'upper' | 'lower' | 'end', readonly number[]>>;
  readonly skin: readonly number[];
  readonly digits: number;
  /** What the clips say for each pair being the middle joint. */
  readonly joints: readonly number[];
  /** Nothing is called a part of a body, and there are few bones. */
  readonly isToy: boolean;
}

function factsOf(context: MatchContext, kind: LimbKind, path: LimbPath): PathFacts {
  const concepts = CONCEPTS[kind];
  const named = (concept: BodyConcept) =>
    path.pairs.map(([a, b]) => (context.nameScore(a, concept) + context.nameScore(b, concept)) / 2);
  return {
    names: {
      base: named(concepts.base),
      upper: named(concepts.upper),
      lower: named(concepts.lower),
      end: named(concepts.end),
    },
    skin: path.pairs.map((pair) => scoreSkin(context, pair)),
    digits: scoreDigits(context, kind, path),
    joints: jointEvidence(context, path),
    isToy:
      context.shape.boneCount <= TOY_BONES && context.names.bones.every((reading) => strongestPart(reading) === null),
  };
}

/** A joint inside a limb from which this many further chains leave is the end of the limb, not its elbow. */
const HAND_BRANCHES = 2;
const ELBOW_FANS = 2.5;

/** What a missing joint costs: more than a doubtful one, less than a wrong one. */
const MISSING_LOWER = -3;
const MISSING_END = -2.4;
/** What each bone above the first joint costs. */
const ABOVE_LIMB = -0.9;

function scoreWithoutPlace(
  context: MatchContext,
  path: LimbPath,
  { names, skin, digits, joints }: PathFacts,
  anchors: Anchors,
): number {
  const { base, upper, lower, end } = anchors;
  let score = names.upper[upper];
  if (end >= 0) score += names.end[end];
  if (lower >= 0) score += names.lower[lower] + joints[lower];
  if (base >= 0) score += names.base[base];
  if (context.use.tree) {
    score +=
      (base >= 0 ? skin[base] : 0) + skin[upper] + (lower >= 0 ? skin[lower] : 0) + (end >= 0 ? skin[end] + digits : 0);
    score -= costOfSkipped(path, anchors);
    if (lower >= 0 && end >= 0 && path.branches[lower] >= HAND_BRANCHES) score -= ELBOW_FANS;
  }
  if (lower < 0) score += MISSING_LOWER;
  if (end < 0) score += MISSING_END;
  return score;
}

/** Shoulder or hip joints nearer to each other than this share of the rig's size are one joint, and what leads to them lies above. */
const JOINED = 0.01;
const UPPER_JOINED = -3;

/** Most that place can add: a fine clavicle and a hand that goes on straight, or a foot that turns. */
const MOST_BY_PLACE = 1.2 + 1e-9;

function addPlace(
  context: MatchContext,
  kind: LimbKind,
  path: LimbPath,
  anchors: Anchors,
  plain: number,
): { score: number; length: number } {
  let [score, length] = [plain, 0];
  if (context.use.place && isJoined(context, path, anchors)) score += UPPER_JOINED;
  if (context.use.place && kind === 'arm' && startsAsClavicle(context, path, anchors)) score -= CLAVICLE_AS_ARM;
  if (context.use.place && skipsSegment(context, path, anchors)) score -= SKIPPED;
  // A limb of one bone has no segment to judge.
  if (anchors.lower < 0 && anchors.end < 0)
    return {
      score: context.use.place && leadsAside(context, path, anchors) ? score + CLAVICLE_BY_PLACE : score,
      length: 0,
    };
  for (const side of [0, 1] as const) {
    const segments = segmentLengths(context, path, side, anchors);
    length += (segments.upper + segments.lower) / 2;
    if (context.use.place) score += scoreSegments(context, kind, path, side, anchors, segments) / 2;
  }
  return { score, length };
}

/** A bone that starts near the middle and leads aside to the only bone of an arm is its clavicle. */
const CLAVICLE_BY_PLACE = 1.2;
const NEAR_MIDDLE = 0.35;

function leadsAside({ mirror }: MatchContext, { pairs }: LimbPath, { base, upper }: Anchors): boolean {
  const aside = (at: number) => Math.abs(mirror.lateral[pairs[at][0]]);
  return base >= 0 && aside(base) < NEAR_MIDDLE * aside(upper);
}

/** An arm without a clavicle whose first bone starts near the middle and is short against what follows: that one is the clavicle. */
const CLAVICLE_AS_ARM = 0.9;
const SHORT_FIRST = 0.75;

function startsAsClavicle(
  { body, mirror }: MatchContext,
  { pairs }: LimbPath,
  { base, upper, lower, end }: Anchors,
): boolean {
  const next = lower >= 0 ? lower : end;
  if (base >= 0 || next !== upper + 1) return false;
  const aside = (at: number) => Math.abs(mirror.lateral[pairs[at][0]]);
  const [bone] = pairs[next];
  return aside(upper) < NEAR_MIDDLE * aside(next) && body.lengths[bone] < SHORT_FIRST * body.reaches[bone];
}

/** What it costs to leave out a limb's own first segment. */
const SKIPPED = 1.2;

/** A pair above the limb that moves vertices and leads to it over as long a way as its own first segment. */
function skipsSegment(context: MatchContext, { pairs, distances }: LimbPath, anchors: Anchors): boolean {
  const { base, upper, lower, end } = anchors;
  const next = lower >= 0 ? lower : end;
  if (base >= 0 || upper === 0 || next < 0 || !moveBoth(context, pairs[upper - 1])) return false;
  const apart = (from: number, to: number) => distances[0][from * pairs.length + to];
  return apart(upper - 1, upper) > AS_LONG * apart(upper, next);
}
const AS_LONG = 0.8;

/** Both upper joints at one place, from where a short way leads to the first long segment. */
function isJoined({ body }: MatchContext, { pairs, distances }: LimbPath, { upper, lower, end }: Anchors): boolean {
  const [a, b] = pairs[upper];
  if (distance(body.positions[a], body.positions[b]) >= body.size * JOINED) return false;
  const next = lower >= 0 ? lower : end;
  if (next < 0) return body.reaches[a] > 0;
  const [first, rest] = [distances[0][upper * pairs.length + next], body.reaches[pairs[next][0]]];
  return rest < first / 2 || first < LONG_FIRST * rest;
}
/** A first segment of this share of what follows is a thigh: some figures' legs meet in the middle. */
const LONG_FIRST = 0.6;

function costOfSkipped({ pairs, between }: LimbPath, { base, upper, lower, end }: Anchors): number {
  const cost = (from: number, to: number) => between[from * pairs.length + to];
  const first = base >= 0 ? base : upper;
  let sum = -ABOVE_LIMB * first;
  if (base >= 0) sum += cost(base, upper);
  if (lower >= 0) sum += cost(upper, lower);
  if (end >= 0) sum += cost(lower >= 0 ? lower : upper, end);
  return sum;
}

function scoreSkin(context: MatchContext, pair: Sided): number {
  let score = 0;
  for (const bone of pair) {
    if (!context.moves(bone)) score -= 0.9;
    // Among bones at one place, the one that carries more of the mesh; too little to outweigh anything else.
    else if (context.shape.hasSkin) score += Math.min(0.15, 0.05 * Math.log10(1 + context.rig.bones[bone].skinWeight));
  }
  return score;
}

/** Hands fan out into several chains, feet do not. */
function scoreDigits(context: MatchContext, kind: LimbKind, { pairs, fan }: LimbPath): number {
  const deep = context.body.subtreeCounts[pairs[pairs.length - 1][0]];
  if (kind === 'arm') return fan >= 3 ? 1.2 : fan === 2 ? 0.6 : 0;
  return fan >= 3 && deep >= 10 ? -1.5 : 0;
}

interface Segments {
  readonly upper: number;
  readonly lower: number;
}

function segmentLengths(
  context: MatchContext,
  { pairs, distances }: LimbPath,
  side: 0 | 1,
  { upper, lower, end }: Anchors,
): Segments {
  const apart = (from: number, to: number) => distances[side][from * pairs.length + to];
  if (end < 0) return { upper: apart(upper, lower), lower: context.body.reaches[pairs[lower][side]] };
  if (lower < 0) return { upper: apart(upper, end), lower: 0 };
  return { upper: apart(upper, lower), lower: apart(lower, end) };
}

/** How far a limb's two segments differ among figures; toys and machines have short forearms. Standard deviation of the logarithm. */
const SEGMENTS_UNLIKE = 0.33;

function scoreSegments(
  context: MatchContext,
  kind: LimbKind,
  path: LimbPath,
  side: 0 | 1,
  { base, upper, lower, end }: Anchors,
  lengths: Segments,
): number {
  const { body } = context;
  const { pairs, distances, turns } = path;
  const small = body.size * 1e-3;
  let score = 0;
  if (lower >= 0 && end >= 0)
    score += bell(Math.log((lengths.upper + small) / (lengths.lower + small)), 0.05, SEGMENTS_UNLIKE, 4);
  const beyond = end >= 0 ? body.reaches[pairs[end][side]] / ((lengths.lower || lengths.upper) + small) : 0;
  if (kind === 'arm') {
    if (beyond > 1.1) score -= Math.min(4, (beyond - 1.1) * 3);
    if (base >= 0) {
      const ratio = distances[side][base * pairs.length + upper] / (lengths.upper + small);
      score += 0.8 + bell(Math.log(ratio + 0.02), Math.log(0.5), 0.5, 3);
    }
  } else if (beyond > 0.9) score -= Math.min(4, (beyond - 0.9) * 3);
  // The limb as a whole must have some size, or two finger bones make a fine arm.
  score += Math.max(-6, Math.min(0, Math.log((lengths.upper + lengths.lower + small) / (body.size * 0.22))) * 4);
  return end < 0 ? score : score + scoreTurn(kind, turns[side][lower >= 0 ? lower : upper]);
}

/** Feet point away from the shin, hands along the forearm. */
function scoreTurn(kind: LimbKind, turn: Turn): number {
  if (turn === 'unknown') return 0;
  if (kind === 'leg') return turn === 'bent' ? 0.9 : -0.9;
  return turn === 'bent' ? -0.7 : 0.4;
}
