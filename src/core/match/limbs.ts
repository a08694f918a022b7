import type { BodyConcept } from '../dialect/concepts';
import { angleBetween, distance, dot, lengthOf, mean, normalise, reject, subtract, type Vec3 } from '../math/vec3';
import { commonAncestor, pathBelow } from '../rig/rig-shape';
import type { MatchContext } from './context';

export type LimbKind = 'arm' | 'leg';

/** Three joints (and a clavicle for arms) on both sides. Sides `a` and `b` are not yet told apart. */
export interface Limb {
  readonly kind: LimbKind;
  /** Clavicle, or -1. Always -1 for legs. */
  readonly base: Sided;
  readonly upper: Sided;
  /** -1 where the limb has a single bone. */
  readonly lower: Sided;
  /** Hand or foot; -1 where the limb ends without one. */
  readonly end: Sided;
  /** All bones that the limb uses, both sides. */
  readonly bones: readonly number[];
  readonly score: number;
  /** The part of the score that came from names. */
  readonly nameScore: number;
  /** upper + lower segment, file units, mean of the sides. */
  readonly length: number;
}

/** Bone on side a and on side b; -1 for none. */
export type Sided = readonly [a: number, b: number];
export const NONE: Sided = [-1, -1];

const CONCEPTS: Record<LimbKind, { base: BodyConcept; upper: BodyConcept; lower: BodyConcept; end: BodyConcept }> = {
  arm: { base: 'shoulder', upper: 'upperArm', lower: 'lowerArm', end: 'hand' },
  leg: { base: 'hips', upper: 'upperLeg', lower: 'lowerLeg', end: 'foot' },
};

/** Paths are cut to this many pairs; what lies deeper is digits, cloth or hair. */
const MAX_PATH = 10;
const MAX_LIMBS = 48;

/** All plausible limbs of a kind, best first. */
export function findLimbs(context: MatchContext, kind: LimbKind): Limb[] {
  const { body, mirror } = context;
  const limbs: Limb[] = [];
  for (let a = 0; a < body.boneCount; a++) {
    const b = mirror.partners[a];
    if (b <= a) continue;
    const path = pairPath(context, a, b);
    if (path.length === 0 || path.length > MAX_PATH) continue;
    limbs.push(...limbsOnPath(context, kind, path));
  }
  limbs.sort(compareLimbs);
  return limbs.slice(0, MAX_LIMBS);
}

/** Ties go to the longer limb, then to the one nearer the root: never to index order alone. */
const compareLimbs = (x: Limb, y: Limb): number => y.score - x.score || y.length - x.length;

/** Pairs from just below the common ancestor of `a` and `b` down to them. */
function pairPath(context: MatchContext, a: number, b: number): Sided[] {
  const { body, mirror } = context;
  const top = commonAncestor(body, a, b);
  const [left, right] = [pathBelow(body, top, a) ?? [], pathBelow(body, top, b) ?? []];
  const inRight = new Set(right);
  return left.filter((bone) => inRight.has(mirror.partners[bone])).map((bone) => [bone, mirror.partners[bone]]);
}

function limbsOnPath(context: MatchContext, kind: LimbKind, path: readonly Sided[]): Limb[] {
  const limbs: Limb[] = [];
  const last = path.length - 1;
  for (let upper = 0; upper <= last - 1; upper++) {
    const bases = kind === 'arm' ? [...Array(upper).keys(), -1] : [-1];
    for (const base of bases) {
      for (let lower = upper + 1; lower < last; lower++) {
        limbs.push(scoreLimb(context, kind, path, { base, upper, lower, end: last }));
      }
      // Limbs with one bone missing: no hand or foot, or no knee or elbow.
      if (endsNear(context, path[last])) limbs.push(scoreLimb(context, kind, path, { base, upper, lower: last, end: -1 }));
      if (upper === last - 1) limbs.push(scoreLimb(context, kind, path, { base, upper, lower: -1, end: last }));
    }
  }
  return limbs;
}

/** True where no further branching tree follows: the bone can be the last of a limb. */
const endsNear = (context: MatchContext, pair: Sided): boolean => context.body.subtreeCounts[pair[0]] <= 3;

interface Anchors {
  readonly base: number;
  readonly upper: number;
  readonly lower: number;
  readonly end: number;
}

/** What a missing joint costs: more than a doubtful one, less than a wrong one. */
const MISSING_LOWER = -3;
const MISSING_END = -2.4;

function scoreLimb(context: MatchContext, kind: LimbKind, path: readonly Sided[], anchors: Anchors): Limb {
  const at = (index: number): Sided => (index < 0 ? NONE : path[index]);
  const [base, upper, lower, end] = [at(anchors.base), at(anchors.upper), at(anchors.lower), at(anchors.end)];
  const concepts = CONCEPTS[kind];
  let names = sidedName(context, upper, concepts.upper);
  if (end[0] >= 0) names += sidedName(context, end, concepts.end);
  if (lower[0] >= 0) names += sidedName(context, lower, concepts.lower);
  if (base[0] >= 0) names += sidedName(context, base, concepts.base);
  let score = names;
  if (context.use.tree) score += scoreSkipped(context, path, anchors) + scoreSkin(context, [upper, lower, end]);
  if (context.use.tree && end[0] >= 0) score += scoreDigits(context, kind, end);
  let length = 0;
  for (const side of [0, 1] as const) {
    const segments = segmentLengths(context, side, upper, lower, end);
    length += (segments.upper + segments.lower) / 2;
    if (context.use.place) score += scoreSegments(context, kind, side, base, upper, lower, end, segments) / 2;
  }
  if (lower[0] < 0) score += MISSING_LOWER;
  if (end[0] < 0) score += MISSING_END;
  const bones = [...base, ...upper, ...lower, ...end].filter((bone) => bone >= 0);
  return { kind, base, upper, lower, end, bones, score, nameScore: names, length };
}

const sidedName = (context: MatchContext, bones: Sided, concept: BodyConcept): number =>
  (context.nameScore(bones[0], concept) + context.nameScore(bones[1], concept)) / 2;

/** Bones of the path that got no role: harmless on the segment (twist bones), suspicious off it. */
function scoreSkipped(context: MatchContext, path: readonly Sided[], anchors: Anchors): number {
  const { positions } = context.body;
  const last = anchors.end >= 0 ? anchors.end : anchors.lower;
  let score = 0;
  let before = -1;
  for (let index = 0; index < last; index++) {
    if (isAnchor(anchors, index)) {
      before = index;
      continue;
    }
    if (before < 0) {
      score -= 0.9;
      continue;
    }
    // What fans out into several chains is the hand or foot itself.
    if (countDigitChains(context, path[index][0]) >= 3) score -= 2.5;
    let after = index + 1;
    while (!isAnchor(anchors, after)) after++;
    for (let side = 0; side < 2; side++) {
      const from = positions[path[before][side]];
      const to = positions[path[after][side]];
      const isOnSegment = distanceToSegment(positions[path[index][side]], from, to) < 0.06 * distance(from, to) + 1e-9;
      score -= context.use.place && !isOnSegment ? 1.2 : 0.35;
    }
  }
  return score;
}

const isAnchor = (anchors: Anchors, index: number): boolean =>
  index === anchors.base || index === anchors.upper || index === anchors.lower || index === anchors.end;

function distanceToSegment(point: Vec3, from: Vec3, to: Vec3): number {
  const direction = normalise(subtract(to, from));
  if (!direction) return distance(point, from);
  return lengthOf(reject(subtract(point, from), direction));
}

function scoreSkin(context: MatchContext, joints: readonly Sided[]): number {
  let score = 0;
  for (const pair of joints) {
    for (const bone of pair) {
      if (bone < 0) continue;
      if (!context.moves(bone)) score -= 0.9;
      // Among bones at one place, the one that carries more of the mesh; too little to outweigh anything else.
      else if (context.shape.hasSkin) score += Math.min(0.15, 0.05 * Math.log10(1 + context.rig.bones[bone].skinWeight));
    }
  }
  return score;
}

/** Hands fan out into several chains, feet do not. */
function scoreDigits(context: MatchContext, kind: LimbKind, end: Sided): number {
  const chains = countDigitChains(context, end[0]);
  const deep = context.body.subtreeCounts[end[0]];
  if (kind === 'arm') return chains >= 3 ? 1.2 : chains === 2 ? 0.6 : 0;
  return chains >= 3 && deep >= 10 ? -1.5 : 0;
}

function countDigitChains(context: MatchContext, end: number): number {
  const { body } = context;
  let count = 0;
  for (const child of body.children[end]) if (context.moves(child) || body.children[child].length > 0) count++;
  return count;
}

function segmentLengths(context: MatchContext, side: 0 | 1, upper: Sided, lower: Sided, end: Sided): { upper: number; lower: number } {
  const { positions, reaches } = context.body;
  if (end[0] < 0) return { upper: distance(positions[upper[side]], positions[lower[side]]), lower: reaches[lower[side]] };
  if (lower[0] < 0) return { upper: distance(positions[upper[side]], positions[end[side]]), lower: 0 };
  return {
    upper: distance(positions[upper[side]], positions[lower[side]]),
    lower: distance(positions[lower[side]], positions[end[side]]),
  };
}

/** −½ z², never worse than `-worst`: a single odd proportion must not outweigh everything else. */
export const bell = (value: number, expected: number, spread: number, worst: number): number =>
  Math.max(-worst, -0.5 * ((value - expected) / spread) ** 2);

function scoreSegments(
  context: MatchContext,
  kind: LimbKind,
  side: 0 | 1,
  base: Sided,
  upper: Sided,
  lower: Sided,
  end: Sided,
  lengths: { upper: number; lower: number },
): number {
  const { body } = context;
  const small = body.size * 1e-3;
  let score = 0;
  if (lower[0] >= 0 && end[0] >= 0) score += bell(Math.log((lengths.upper + small) / (lengths.lower + small)), 0.05, 0.25, 4);
  const lowerLength = lengths.lower || lengths.upper;
  const beyond = end[0] >= 0 ? body.reaches[end[side]] / (lowerLength + small) : 0;
  if (kind === 'arm') {
    if (beyond > 1.1) score -= Math.min(4, (beyond - 1.1) * 3);
    if (base[0] >= 0) {
      const ratio = distance(body.positions[base[side]], body.positions[upper[side]]) / (lengths.upper + small);
      score += 0.8 + bell(Math.log(ratio + 0.02), Math.log(0.5), 0.5, 3);
    }
  } else if (beyond > 0.9) score -= Math.min(4, (beyond - 0.9) * 3);
  // The limb as a whole must have some size, or two finger bones make a fine arm.
  score += Math.max(-6, Math.min(0, Math.log((lengths.upper + lengths.lower + small) / (body.size * 0.22))) * 4);
  if (end[0] < 0) return score;
  return score + scoreBendAtEnd(context, kind, end[side], lower[side] >= 0 ? lower[side] : upper[side]);
}

/** Feet point away from the shin, hands along the forearm; in any pose. */
function scoreBendAtEnd(context: MatchContext, kind: LimbKind, end: number, before: number): number {
  const { body } = context;
  const children = body.children[end].filter((child) => distance(body.positions[child], body.positions[end]) > body.size * 0.004);
  if (children.length === 0) return 0;
  const tips = children.map((child) => farthestBelow(context, child));
  const direction = subtract(mean(tips), body.positions[end]);
  const angle = angleBetween(direction, subtract(body.positions[end], body.positions[before]));
  const isBent = angle > (38 * Math.PI) / 180;
  if (kind === 'leg') return isBent ? 0.9 : -0.9;
  return isBent ? -0.7 : 0.4;
}

/** Place of the end of the longest way down from a bone. */
export function farthestBelow(context: MatchContext, bone: number): Vec3 {
  const { body } = context;
  let at = bone;
  while (body.children[at].length > 0) {
    at = body.children[at].reduce((best, child) =>
      body.reaches[child] + body.lengths[child] > body.reaches[best] + body.lengths[best] ? child : best);
  }
  return body.positions[at];
}

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
export const limbTip = (limb: Limb): Sided => (limb.end[0] >= 0 ? limb.end : limb.lower);

/** Mean direction from the upper joint to the end, both sides; not normalised. */
export function limbDirection(context: MatchContext, limb: Limb): Vec3 {
  return subtract(middleOf(context, limbTip(limb)), middleOf(context, limb.upper));
}
