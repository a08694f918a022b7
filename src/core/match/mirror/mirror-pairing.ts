import type { NameReadings } from '../../dialect/read-names';
import { distance, scale, subtract, type Vec3 } from '../../math/vec3';
import { isAncestor, type RigShape } from '../../rig/rig-shape';
import { apart, CENTRE_SHARE, firstApart, MOST_SIBLINGS, rootsOf, SHAPE_SHARE, shapeDifference } from './shape-pairs';

/** Two bones that may be partners; the cheapest come first. */
interface Candidate {
  readonly a: number;
  readonly b: number;
  readonly cost: number;
}

/** Mirrored places may differ by this share of the rig's size. */
const PLACE_SHARE = 0.03;

/** Pairs what stands at mirrored places, nearest first; among equals the more alike subtree. */
export function pairByPlace(
  shape: RigShape,
  names: NameReadings,
  normal: Vec3,
  lateral: Float64Array,
  partners: Int32Array,
): void {
  const tolerance = PLACE_SHARE * shape.size;
  const free = [...partners.keys()].filter(
    (bone) => partners[bone] < 0 && Math.abs(lateral[bone]) > CENTRE_SHARE * shape.size,
  );
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
export function pairDown(
  shape: RigShape,
  names: NameReadings,
  normal: Vec3,
  lateral: Float64Array,
  partners: Int32Array,
): void {
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
  const isClear = (x: number, y: number) =>
    lateral[x] * lateral[y] < 0 && Math.min(Math.abs(lateral[x]), Math.abs(lateral[y])) >= least;
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
export function pairOffPlane(shape: RigShape, names: NameReadings, lateral: Float64Array, partners: Int32Array): void {
  for (let bone = 0; bone < shape.boneCount; bone++) {
    if (shape.children[bone].length < 2 || isBelowPair(shape, partners, bone)) continue;
    const hasLeft = Math.abs(lateral[bone]) > CENTRE_SHARE * 2 * shape.size;
    const isFree = (child: number) =>
      partners[child] < 0 && (hasLeft || shape.lengths[child] + shape.reaches[child] > LIMB_REACH * shape.size);
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

function isBelowPair(shape: RigShape, partners: Int32Array, bone: number): boolean {
  for (let at = bone; at >= 0; at = shape.parents[at]) if (partners[at] >= 0 && partners[at] !== at) return true;
  return false;
}

/** Segments of the same limb on both sides differ in length by less than this share. */
const SAME_LENGTH = 0.05;

/**
 * What is left below partners pairs by the length of its own segment: one hand may hold something, so that all that
 * counts what lies below (reach, number of bones) differs up the whole arm.
 */
function pairByLength(
  shape: RigShape,
  names: NameReadings,
  left: readonly number[],
  right: readonly number[],
  partners: Int32Array,
): void {
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
function pairAcrossExtra(
  shape: RigShape,
  left: readonly number[],
  right: readonly number[],
  partners: Int32Array,
): void {
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
