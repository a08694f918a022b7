import type { NameReadings } from '../dialect/read-names';
import { add, distance, dot, lengthOf, normalise, scale, subtract, type Vec3 } from '../math/vec3';
import { isAncestor, type RigShape } from '../rig/rig-shape';

/** Which bones belong together as left and right, and the plane between them. The sides are not yet told apart. */
export interface Mirror {
  /** Partner of each bone; the bone itself on the centre line; -1 where no partner was found. */
  readonly partners: Int32Array;
  /** Unit normal of the symmetry plane, file space; its sign says nothing. */
  readonly normal: Vec3;
  /** Signed distance of each bone's head from the plane, file units. */
  readonly lateral: Float64Array;
  /** True when name marks or several tree pairs support the plane. */
  readonly isSupported: boolean;
}

/** True for a bone that has a partner other than itself. */
export const isPaired = ({ partners }: Mirror, bone: number): boolean => partners[bone] >= 0 && partners[bone] !== bone;

interface Pair {
  readonly a: number;
  readonly b: number;
  readonly weight: number;
}

/** Two bones that may be partners; the cheapest come first. */
interface Candidate {
  readonly a: number;
  readonly b: number;
  readonly cost: number;
}

/** Bones nearer the plane than this share of the rig's size are on the centre line. */
const CENTRE_SHARE = 0.012;
/** Mirrored places may differ by this share of the rig's size. */
const PLACE_SHARE = 0.03;
/** Tree pairs may differ by this share in length and reach. */
const SHAPE_SHARE = 0.12;
/**
 * Pairs count as agreeing within about this angle. Narrow on purpose: thighs, shoulders and eyes keep their symmetry in
 * any pose, while hands and feet of a walking figure do not, and must not pull the plane along.
 */
const AGREEMENT_RAD = (4 * Math.PI) / 180;

export function findMirror(shape: RigShape, names: NameReadings): Mirror {
  const named = pairsByName(shape, names);
  const grown = named.length >= 3 ? named : [...named, ...pairsByTree(shape)];
  const normal = dominantDirection(grown, shape) ?? bestAxis(shape);
  const offset = medianOffset(grown, shape, normal);
  const lateral = Float64Array.from(shape.positions, (position) => dot(position, normal) - offset);
  const partners = new Int32Array(shape.boneCount).fill(-1);
  for (const { a, b } of named) {
    if (partners[a] < 0 && partners[b] < 0) {
      partners[a] = b;
      partners[b] = a;
    }
  }
  pairDown(shape, names, normal, lateral, partners);
  pairOffPlane(shape, names, lateral, partners);
  pairDown(shape, names, normal, lateral, partners);
  pairByPlace(shape, names, normal, lateral, partners);
  pairDown(shape, names, normal, lateral, partners);
  for (let bone = 0; bone < shape.boneCount; bone++) {
    const isSided = names.bones[bone].side !== null;
    if (partners[bone] < 0 && !isSided && Math.abs(lateral[bone]) < CENTRE_SHARE * 2 * shape.size) partners[bone] = bone;
  }
  return { partners, normal, lateral, isSupported: grown.length >= 2 };
}

/** Bones whose names are equal but for the side mark. */
function pairsByName(shape: RigShape, names: NameReadings): Pair[] {
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

/** Of more siblings than this only the first are compared with one another. */
const MOST_SIBLINGS = 64;

/** Siblings with subtrees of the same shape: the same lengths, reach and count, wherever they point. */
function pairsByTree(shape: RigShape): Pair[] {
  const pairs: Pair[] = [];
  const groups = [...shape.children, rootsOf(shape)];
  for (const group of groups) {
    for (let i = 0; i < group.length && i < MOST_SIBLINGS; i++) {
      for (let j = i + 1; j < group.length && j < MOST_SIBLINGS; j++) {
        const [a, b] = [group[i], group[j]];
        if (shapeDifference(shape, a, b) > SHAPE_SHARE) continue;
        const [x, y] = firstApart(shape, a, b);
        pairs.push({ a: x, b: y, weight: pairWeight(shape, a, b, UNNAMED_WEIGHT) });
      }
    }
  }
  return pairs;
}

/** Two bones, or where they stand at one place, the first ones on the longest ways down that do not: no pose has turned those far. */
function firstApart(shape: RigShape, a: number, b: number): readonly [number, number] {
  let [x, y] = [a, b];
  while (distance(shape.positions[x], shape.positions[y]) < ONE_PLACE * shape.size) {
    [x, y] = [longestChild(shape, x), longestChild(shape, y)];
    if (x < 0 || y < 0) return [a, b];
  }
  return [x, y];
}

const longestChild = (shape: RigShape, bone: number): number =>
  shape.children[bone].reduce((best, child) => (best < 0 || shape.lengths[child] + shape.reaches[child] > shape.lengths[best] + shape.reaches[best] ? child : best), -1);

/** Bones nearer to each other than this share of the rig's size stand at one place. */
const ONE_PLACE = 0.005;

/** What a pair of bones that reach nowhere counts. */
const NAMED_WEIGHT = 1e-3;
const UNNAMED_WEIGHT = 1e-4;

/** Whole limbs tell the plane, not the thirty finger bones at the end of two arms that hang unlike. */
function pairWeight(shape: RigShape, a: number, b: number, least: number): number {
  const reach = (shape.reaches[a] + shape.reaches[b]) / 2 / (shape.size || 1);
  return reach * reach + least;
}

const rootsOf = (shape: RigShape): number[] => [...shape.parents.keys()].filter((bone) => shape.parents[bone] < 0);

function shapeDifference(shape: RigShape, a: number, b: number): number {
  const relative = (x: number, y: number) => (Math.max(x, y) > shape.size * 1e-4 ? apart(x, y) : 0);
  return Math.max(
    relative(shape.lengths[a], shape.lengths[b]),
    relative(shape.reaches[a], shape.reaches[b]),
    relative(shape.subtreeCounts[a], shape.subtreeCounts[b]) / 2,
  );
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
function bestAxis(shape: RigShape): Vec3 {
  const axes: Vec3[] = [[1, 0, 0], [0, 0, 1], [0, 1, 0]];
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
  return best;
}

function medianOffset(pairs: readonly Pair[], shape: RigShape, normal: Vec3): number {
  const middles = pairs
    .filter(({ a, b }) => {
      const direction = normalise(subtract(shape.positions[a], shape.positions[b]));
      return direction !== null && Math.abs(dot(direction, normal)) > Math.cos(2 * AGREEMENT_RAD);
    })
    .map(({ a, b, weight }) => ({ offset: (dot(shape.positions[a], normal) + dot(shape.positions[b], normal)) / 2, weight }));
  return middles.length > 0 ? weightedMedian(middles) : median(shape.positions.map((position) => dot(position, normal)));
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

/** Pairs what stands at mirrored places, nearest first; among equals the more alike subtree. */
function pairByPlace(shape: RigShape, names: NameReadings, normal: Vec3, lateral: Float64Array, partners: Int32Array): void {
  const tolerance = PLACE_SHARE * shape.size;
  const free = [...partners.keys()].filter((bone) => partners[bone] < 0 && Math.abs(lateral[bone]) > CENTRE_SHARE * shape.size);
  // Sorted by distance from the plane, so that only near neighbours are compared.
  free.sort((a, b) => Math.abs(lateral[a]) - Math.abs(lateral[b]));
  const candidates: Candidate[] = [];
  for (let i = 0; i < free.length; i++) {
    const a = free[i];
    const image = subtract(shape.positions[a], scale(normal, 2 * lateral[a]));
    for (let j = i + 1; j < free.length; j++) {
      const b = free[j];
      if (Math.abs(lateral[b]) - Math.abs(lateral[a]) > tolerance) break;
      if (lateral[a] * lateral[b] > 0 || sidesContradict(names, a, b)) continue;
      const away = distance(image, shape.positions[b]);
      if (away > tolerance) continue;
      if (isAncestor(shape, a, b) || isAncestor(shape, b, a)) continue;
      const treeCost = shapeDifference(shape, a, b) + Math.abs(shape.depths[a] - shape.depths[b]) * 0.3;
      candidates.push({ a, b, cost: away / tolerance + treeCost });
    }
  }
  takeCheapest(candidates, partners);
}

function takeCheapest(candidates: Candidate[], partners: Int32Array): void {
  candidates.sort((x, y) => x.cost - y.cost);
  for (const { a, b } of candidates) {
    if (partners[a] >= 0 || partners[b] >= 0) continue;
    partners[a] = b;
    partners[b] = a;
  }
}

function sidesContradict(names: NameReadings, a: number, b: number): boolean {
  const [first, second] = [names.bones[a].side, names.bones[b].side];
  return first !== null && first === second;
}

/** How much a pair may differ in shape where its parents are partners already. */
const CHILD_SHAPE_SHARE = 0.25;

/**
 * From the root down: children of partners (or of one centre bone) pair by their shape, which no pose changes, and among
 * equals by their mirrored place. Runs twice, since pairs found by place open new branches.
 */
function pairDown(shape: RigShape, names: NameReadings, normal: Vec3, lateral: Float64Array, partners: Int32Array): void {
  const tolerance = PLACE_SHARE * shape.size;
  const visit = (left: readonly number[], right: readonly number[]) => {
    const candidates: Candidate[] = [];
    const isCentre = left === right;
    for (const a of left) {
      if (partners[a] >= 0) continue;
      const image = subtract(shape.positions[a], scale(normal, 2 * lateral[a]));
      for (const b of right) {
        if (a === b || (isCentre && b < a) || partners[b] >= 0 || sidesContradict(names, a, b)) continue;
        if (isCentre && !areAcross(shape, lateral, a, b)) continue;
        const shapeCost = shapeDifference(shape, a, b);
        if (shapeCost > CHILD_SHAPE_SHARE) continue;
        const away = Math.min(1, distance(image, shape.positions[b]) / (4 * tolerance));
        candidates.push({ a, b, cost: shapeCost + away * 0.5 });
      }
    }
    takeCheapest(candidates, partners);
    if (isCentre) return;
    pairByLength(shape, names, left, right, partners);
    pairAcrossExtra(shape, left, right, partners);
  };
  const roots = rootsOf(shape);
  visit(roots, roots);
  const byDepth = [...partners.keys()].sort((a, b) => shape.depths[a] - shape.depths[b]);
  for (const bone of byDepth) {
    if (shape.children[bone].length === 0) continue;
    const partner = partners[bone];
    const isCentre = partner === bone || (partner < 0 && Math.abs(lateral[bone]) < CENTRE_SHARE * 2 * shape.size);
    if (isCentre) visit(shape.children[bone], shape.children[bone]);
    else if (partner > bone) visit(shape.children[bone], shape.children[partner]);
  }
}

/**
 * Two children of a centre bone on either side of the plane. Where both start in it, as the clavicles of many motion
 * files do, which begin right where the chest ends, what they lead to tells.
 */
function areAcross(shape: RigShape, lateral: Float64Array, a: number, b: number): boolean {
  const least = CENTRE_SHARE * 0.5 * shape.size;
  const isClear = (x: number, y: number) => lateral[x] * lateral[y] < 0 && Math.min(Math.abs(lateral[x]), Math.abs(lateral[y])) >= least;
  return isClear(...firstApart(shape, a, b));
}

/** Siblings that reach this share of the rig's size are limbs, whose plane a turn of the trunk may have left. */
const LIMB_REACH = 0.15;
/** Shoulders may be turned this far (60 degrees) against the hips. */
const TURNED_COSINE = 0.5;

/**
 * A trunk that leans or turns takes arms and head out of the plane that the hips gave. Siblings of one shape pair all the
 * same where the way from one to the other still leads across: limbs anywhere, and whatever hangs on a bone that has left
 * the plane without being one of a pair.
 */
function pairOffPlane(shape: RigShape, names: NameReadings, lateral: Float64Array, partners: Int32Array): void {
  const isPairedAbove = (bone: number): boolean => bone >= 0 && ((partners[bone] >= 0 && partners[bone] !== bone) || isPairedAbove(shape.parents[bone]));
  for (let bone = 0; bone < shape.boneCount; bone++) {
    if (shape.children[bone].length < 2 || isPairedAbove(bone)) continue;
    const hasLeft = Math.abs(lateral[bone]) > CENTRE_SHARE * 2 * shape.size;
    const isFree = (child: number) => partners[child] < 0 && (hasLeft || shape.lengths[child] + shape.reaches[child] > LIMB_REACH * shape.size);
    const free = shape.children[bone].filter(isFree).slice(0, MOST_SIBLINGS);
    const candidates: Candidate[] = [];
    free.forEach((a, at) => {
      for (const b of free.slice(at + 1)) {
        const shapeCost = Math.max(shapeDifference(shape, a, b), apart(shape.lengths[a], shape.lengths[b]));
        if (shapeCost > SHAPE_SHARE || sidesContradict(names, a, b)) continue;
        const [x, y] = firstApart(shape, a, b);
        const between = distance(shape.positions[x], shape.positions[y]);
        const across = Math.abs(lateral[x] - lateral[y]);
        if (across > TURNED_COSINE * between) candidates.push({ a, b, cost: shapeCost + 1 - across / between });
      }
    });
    takeCheapest(candidates, partners);
  }
}

/** Segments of the same limb on both sides differ in length by less than this share. */
const SAME_LENGTH = 0.05;

/**
 * What is left below partners pairs by the length of its own segment: one hand may hold something, so that all that
 * counts what lies below (reach, number of bones) differs up the whole arm.
 */
function pairByLength(shape: RigShape, names: NameReadings, left: readonly number[], right: readonly number[], partners: Int32Array): void {
  const candidates: Candidate[] = [];
  for (const a of left) {
    for (const b of right) {
      if (partners[a] >= 0 || partners[b] >= 0 || sidesContradict(names, a, b)) continue;
      const difference = apart(shape.lengths[a], shape.lengths[b]);
      if (difference < SAME_LENGTH) candidates.push({ a, b, cost: difference });
    }
  }
  takeCheapest(candidates, partners);
}

/**
 * One side may have an extra bone inside a segment, a twist on the way to the next joint. The bone below it then pairs
 * with the other side's next bone: as far from the joint above, with the same shape below.
 */
function pairAcrossExtra(shape: RigShape, left: readonly number[], right: readonly number[], partners: Int32Array): void {
  const candidates: Candidate[] = [];
  const consider = (inner: number, other: number) => {
    const [only, ...rest] = shape.children[inner];
    if (only === undefined || rest.length > 0 || partners[only] >= 0) return;
    const whole = distance(shape.positions[only], shape.positions[shape.parents[inner]]);
    const isOnTheWay = shape.lengths[inner] + shape.lengths[only] < whole * 1.05;
    const difference = Math.max(apart(whole, shape.lengths[other]), apart(shape.reaches[only], shape.reaches[other]));
    if (isOnTheWay && difference <= SHAPE_SHARE) candidates.push({ a: only, b: other, cost: difference });
  };
  for (const a of left) {
    for (const b of right) {
      if (partners[a] >= 0 || partners[b] >= 0) continue;
      consider(a, b);
      consider(b, a);
    }
  }
  takeCheapest(candidates, partners);
}

/** Difference of two lengths as a share of the longer one. */
const apart = (x: number, y: number): number => (Math.max(x, y) > 0 ? Math.abs(x - y) / Math.max(x, y) : 0);
