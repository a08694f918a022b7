import type { NameReadings } from '../../dialect/read-names';
import { add, distance, dot, lengthOf, normalise, scale, subtract, type Vec3 } from '../../math/vec3';
import { isAncestor, type RigShape } from '../../rig/rig-shape';
import { apart, CENTRE_SHARE, firstApart, MOST_SIBLINGS, rootsOf, SHAPE_SHARE, shapeDifference } from './shape-pairs';

/** Two bones that speak for a plane between them. */
export interface Pair {
  readonly a: number;
  readonly b: number;
  readonly weight: number;
}

/**
 * Pairs count as agreeing within about this angle. Narrow on purpose: thighs, shoulders and eyes keep their symmetry in
 * any pose, while hands and feet of a walking figure do not, and must not pull the plane along.
 */
const AGREEMENT_RAD = (4 * Math.PI) / 180;

/** Bones whose names are equal but for the side mark. */
export function pairsByName(shape: RigShape, names: NameReadings): Pair[] {
  const byKey = new Map<string, { left: number[]; right: number[] }>();
  names.bones.forEach((reading, bone) => {
    if (!reading.side) return;
    const entry = byKey.get(reading.pairKey) ?? { left: [], right: [] };
    entry[reading.side].push(bone);
    byKey.set(reading.pairKey, entry);
  });
  const pairs: Pair[] = [];
  for (const { left, right } of byKey.values()) {
    // Duplicate names pair up in order of appearance; most rigs have exactly one of each.
    for (let at = 0; at < Math.min(left.length, right.length); at++) {
      if (isAncestor(shape, left[at], right[at]) || isAncestor(shape, right[at], left[at])) continue;
      pairs.push({ a: left[at], b: right[at], weight: pairWeight(shape, left[at], right[at], NAMED_WEIGHT) });
    }
  }
  return withoutReversed(shape, pairs);
}

/** One side may be numbered downward and the other upward: pairs that turn each other's order round are none. */
function withoutReversed(shape: RigShape, pairs: readonly Pair[]): Pair[] {
  const pairOf = new Map(pairs.map((pair) => [pair.a, pair]));
  const reversed = new Set<Pair>();
  for (const pair of pairs) {
    for (let above = shape.parents[pair.a]; above >= 0; above = shape.parents[above]) {
      const other = pairOf.get(above);
      if (other && isAncestor(shape, pair.b, other.b)) reversed.add(pair).add(other);
    }
  }
  return pairs.filter((pair) => !reversed.has(pair));
}

/** Siblings with subtrees of the same shape: the same lengths, reach and count, wherever they point. */
export function pairsByTree(shape: RigShape): Pair[] {
  const pairs: Pair[] = [];
  const groups = [...shape.children, rootsOf(shape)];
  for (const group of groups) {
    for (let i = 0; i < group.length && i < MOST_SIBLINGS; i++) {
      for (let j = i + 1; j < group.length && j < MOST_SIBLINGS; j++) {
        const [a, b] = [group[i], group[j]];
        const alike = likeness(shape, a, b);
        if (alike === 0) continue;
        const [x, y] = firstApart(shape, a, b);
        pairs.push({ a: x, b: y, weight: alike * pairWeight(shape, a, b, UNNAMED_WEIGHT) });
      }
    }
  }
  return pairs;
}

/** Limbs of one shape whose roots lie unlike: their parent is off the middle. */
const SAME_REACH = 0.02;
const LIMB_REACH = 0.1;
const ROOTS_UNLIKE = 0.4;

/** 1 for siblings of one shape, less for those that differ, 0 for no pair: a head may be nearly as long as an arm. */
function likeness(shape: RigShape, a: number, b: number): number {
  const difference = shapeDifference(shape, a, b);
  if (difference <= SHAPE_SHARE) return 1 - (LEAST_ALIKE * difference) / SHAPE_SHARE;
  const isLimb =
    shape.reaches[a] > LIMB_REACH * shape.size &&
    shape.subtreeCounts[a] === shape.subtreeCounts[b] &&
    apart(shape.reaches[a], shape.reaches[b]) < SAME_REACH;
  return isLimb ? ROOTS_UNLIKE : 0;
}
/** What a pair loses at the most that it may differ. */
const LEAST_ALIKE = 0.9;

/** What a pair of bones that reach nowhere counts. */
const NAMED_WEIGHT = 1e-3;
const UNNAMED_WEIGHT = 1e-4;

/** Whole limbs tell the plane, not the thirty finger bones at the end of two arms that hang unlike. */
function pairWeight(shape: RigShape, a: number, b: number, least: number): number {
  const reach = (shape.reaches[a] + shape.reaches[b]) / 2 / (shape.size || 1);
  return reach * reach + least;
}

/** The plane that pairs agree on; without a usable pair the one across which most joints have a mirror image. */
export function planeOf(pairs: readonly Pair[], shape: RigShape): { normal: Vec3; offset: number } {
  // Where no pair reaches anywhere, as in a rig without a tree, any two bones make one: the places tell.
  const byPlace = pairs.every(({ weight }) => weight < NAMED_WEIGHT) ? imagedAxis(shape) : null;
  const normal = byPlace ?? dominantDirection(pairs, shape) ?? bestAxis(shape).axis;
  return { normal, offset: medianOffset(pairs, shape, normal) };
}

/** The direction most pair differences agree on, weighted; null without a usable pair. */
function dominantDirection(pairs: readonly Pair[], shape: RigShape): Vec3 | null {
  const directions: { direction: Vec3; weight: number }[] = [];
  for (const { a, b, weight } of pairs) {
    const difference = subtract(shape.positions[a], shape.positions[b]);
    const direction = normalise(difference);
    if (direction && lengthOf(difference) > shape.size * 0.01) directions.push({ direction, weight });
  }
  // The pairs that reach farthest are asked first: a face has a hundred small ones.
  directions.sort((a, b) => b.weight - a.weight);
  let best: Vec3 | null = null;
  let bestScore = 0;
  for (const candidate of directions.slice(0, 160)) {
    let score = 0;
    let sum: Vec3 = [0, 0, 0];
    for (const { direction, weight } of directions) {
      const cosine = dot(direction, candidate.direction);
      // 1 - cos² = sin² of the angle between the two.
      const away = (1 - cosine * cosine) / (AGREEMENT_RAD * AGREEMENT_RAD);
      if (away > 9) continue;
      const vote = weight * Math.exp(-away);
      score += vote;
      sum = add(sum, scale(direction, vote * Math.sign(cosine)));
    }
    if (score > bestScore + 1e-12) {
      bestScore = score;
      best = normalise(sum);
    }
  }
  return best;
}

/** Without pairs: the file axis about which most joints have a mirror image. */
function bestAxis(shape: RigShape): { axis: Vec3; share: number } {
  const axes: Vec3[] = [
    [1, 0, 0],
    [0, 0, 1],
    [0, 1, 0],
  ];
  let best = axes[0];
  let bestCount = -1;
  for (const axis of axes) {
    const offset = median(shape.positions.map((position) => dot(position, axis)));
    let count = 0;
    for (const position of shape.positions) {
      const away = dot(position, axis) - offset;
      if (Math.abs(away) < CENTRE_SHARE * shape.size) continue;
      const image = subtract(position, scale(axis, 2 * away));
      if (shape.positions.some((other) => distance(other, image) < CENTRE_SHARE * shape.size)) count++;
    }
    if (count > bestCount) [best, bestCount] = [axis, count];
  }
  return { axis: best, share: bestCount / (shape.boneCount || 1) };
}

/** The file axis across which this share of the bones has a mirror image; null where none has. */
function imagedAxis(shape: RigShape): Vec3 | null {
  const { axis, share } = bestAxis(shape);
  return share >= IMAGED_SHARE ? axis : null;
}
const IMAGED_SHARE = 0.4;

function medianOffset(pairs: readonly Pair[], shape: RigShape, normal: Vec3): number {
  const middles = pairs
    .filter(({ a, b }) => {
      const direction = normalise(subtract(shape.positions[a], shape.positions[b]));
      return direction !== null && Math.abs(dot(direction, normal)) > Math.cos(2 * AGREEMENT_RAD);
    })
    .map(({ a, b, weight }) => ({
      offset: (dot(shape.positions[a], normal) + dot(shape.positions[b], normal)) / 2,
      weight,
    }));
  return middles.length > 0
    ? weightedMedian(middles)
    : median(shape.positions.map((position) => dot(position, normal)));
}

/** Pairs of whole limbs count for more than chance pairs of loose bones, however many there are. */
function weightedMedian(values: { offset: number; weight: number }[]): number {
  values.sort((x, y) => x.offset - y.offset);
  const half = values.reduce((sum, { weight }) => sum + weight, 0) / 2;
  let sum = 0;
  for (const { offset, weight } of values) {
    sum += weight;
    if (sum >= half) return offset;
  }
  return values[values.length - 1].offset;
}

function median(values: number[]): number {
  if (values.length === 0) return 0;
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[sorted.length >> 1];
}
