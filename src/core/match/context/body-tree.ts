import type { BodyConcept } from '../../dialect/concepts';
import type { NameReadings } from '../../dialect/read-names';
import { angleBetween, distance, lengthOf, subtract } from '../../math/vec3';
import { isAncestor, type RigShape } from '../../rig/rig-shape';
import { plainPart, strongestPart } from '../names/name-score';
import { adoptFromTargets, adoptNamedDigits } from './adopt-digits';
import { growFromMiddle, startsIn } from './grow-from-middle';
import { hang } from './hang';
import { joinLooseTrees } from './loose-trees';
import type { WitnessSource } from '../witness/motion-witness';
import { createRiding } from '../witness/riding';
import { SAME_PLACE_SHARE, SEGMENT_SHARE } from './places';

/** A bone with this share of all bones as its children (or as many roots) makes a flat rig. */
const FLAT_SHARE = 0.45;
const MIN_FLAT_BONES = 6;
/** Roots, and what hangs on them or on a container below them. */
const MAX_FLAT_DEPTH = 2;

/** What beside the tree shows which bone leads to which. */
export interface BodyHints {
  /** The bone that each one points at; null where the rig's bones show no axis. */
  readonly pointedAt: (() => Int32Array) | null;
  /** What the rig's clips show; asked only where the tree does not follow the body. */
  readonly witness: WitnessSource;
}
const NO_HINTS: BodyHints = { pointedAt: null, witness: () => null };

/**
 * Parents that follow the body where the rig's own tree does not: flat rigs, limbs without a parent, skin on copies of
 * the bones that lead, digits that hang on a target bone at the hand. Null where the rig's own tree will do. Used for
 * judging only; the rig keeps its tree.
 *
 * @param start bone that a rig without a tree is grown from; null for the likeliest.
 */
export function parentsAlongBody(
  shape: RigShape,
  names: NameReadings,
  carriesSkin: (bone: number) => boolean,
  { pointedAt, witness }: BodyHints = NO_HINTS,
  start: number | null = null,
): Int32Array | null {
  if (shape.boneCount < MIN_FLAT_BONES) return null;
  if (isFlat(shape, carriesSkin))
    return growFromMiddle(
      shape,
      names,
      { pointedAt: pointedAt?.() ?? null, riding: createRiding(shape, witness()) },
      start,
    );
  const parents = Int32Array.from(shape.parents);
  const moves = (bone: number) => shape.hasSkin && carriesSkin(bone);
  const isSwapped = leadBySkin(shape, names, moves, parents);
  const isAdopted = adoptFromTargets(shape, names, carriesSkin, parents);
  const isFound = adoptNamedDigits(shape, names, parents);
  const isEnded = adoptEnds(shape, names, moves, parents);
  const isJoined = joinLooseTrees(shape, names, moves, parents, {
    pointedAt: () => pointedAt?.() ?? null,
    riding: () => createRiding(shape, witness()),
  });
  return isSwapped || isAdopted || isFound || isEnded || isJoined ? parents : null;
}

/** Bones that a rig without a tree may be grown from; none where it has one. */
export function growthStarts(
  shape: RigShape,
  names: NameReadings,
  carriesSkin: (bone: number) => boolean,
  { pointedAt, witness }: BodyHints,
): readonly number[] {
  if (shape.boneCount < MIN_FLAT_BONES || !isFlat(shape, carriesSkin)) return [];
  const starts = startsIn(shape, names, pointedAt?.() ?? null);
  // Where bones point at one another the run up the body shows where it starts, unless clips can tell better.
  return pointedAt && !witness() ? starts.slice(0, 1) : starts;
}

/** Controls and targets that move nothing may hang on the root in any number. */
function isFlat(shape: RigShape, carriesSkin: (bone: number) => boolean): boolean {
  const counts = (bone: number) => !shape.hasSkin || carriesSkin(bone) || shape.children[bone].length > 0;
  const widths = new Map<number, number>();
  let total = 0;
  let widest = 0;
  for (let bone = 0; bone < shape.boneCount; bone++) {
    if (!counts(bone)) continue;
    total++;
    // A face may hang a hundred bones on the head: flat is what hangs at the top.
    if (shape.depths[bone] > MAX_FLAT_DEPTH) continue;
    const width = (widths.get(shape.parents[bone]) ?? 0) + 1;
    widths.set(shape.parents[bone], width);
    widest = Math.max(widest, width);
  }
  return total >= MIN_FLAT_BONES && widest >= total * FLAT_SHARE;
}

/**
 * Bones that move nothing may lead where others carry the mesh: copies at the same place in control rigs, and the extra
 * transforms that exporters put above a bone. The two change places, so that the way down the body goes through what
 * moves the mesh, or has the plain name.
 */
function leadBySkin(
  shape: RigShape,
  names: NameReadings,
  moves: (bone: number) => boolean,
  parents: Int32Array,
): boolean {
  const replaced = new Set<number>();
  for (let control = 0; control < shape.boneCount; control++) {
    if (moves(control)) continue;
    const copy = standIn(shape, names, moves, control);
    if (copy === null) continue;
    for (const child of shape.children[control]) parents[child] = copy;
    parents[copy] = parents[control];
    parents[control] = copy;
    replaced.add(control);
  }
  // Of several above one another each hangs as a leaf on the one that leads in the end.
  for (const control of replaced) while (replaced.has(parents[control])) parents[control] = parents[parents[control]];
  return replaced.size > 0;
}

/** The child at a bone's own place that should lead instead of it; null for none. */
function standIn(
  shape: RigShape,
  names: NameReadings,
  moves: (bone: number) => boolean,
  control: number,
): number | null {
  const children = shape.children[control];
  const atPlace = children.filter(
    (child) => shape.lengths[child] <= SAME_PLACE_SHARE * shape.size && !nameAnotherPart(names, control, child),
  );
  const carrier = atPlace.find(moves);
  if (carrier !== undefined && (children.length > 1 || shape.children[carrier].length === 0)) return carrier;
  const [only] = atPlace;
  if (children.length !== 1 || only === undefined) return null;
  // Without skin a plain name must tell; a twist bone may start where its limb does.
  return names.bones[control].isVariant && leadsToPlainName(shape, names, only) ? only : null;
}

/** True where a bone, or one below it at the same place without a fork between, has a name that is no variant. */
function leadsToPlainName(shape: RigShape, names: NameReadings, from: number): boolean {
  for (let at = from; names.bones[at].isVariant;) {
    const [next, ...others] = shape.children[at];
    if (next === undefined || others.length > 0 || shape.lengths[next] > SAME_PLACE_SHARE * shape.size) return false;
    at = next;
  }
  return true;
}

function nameAnotherPart(names: NameReadings, a: number, b: number): boolean {
  const [first, second] = [strongestPart(names.bones[a]), strongestPart(names.bones[b])];
  return first !== null && second !== null && first !== second;
}

/** What hangs on a foot or hand reaches no farther than this share of the rig's size. */
const END_REACH_SHARE = 0.2;

/**
 * Feet and hands that hang on a root, so that they stay where they are put, while shin and forearm end in a leaf at the
 * same place or in nothing: they go to the limb that ends there.
 */
function adoptEnds(
  shape: RigShape,
  names: NameReadings,
  moves: (bone: number) => boolean,
  parents: Int32Array,
): boolean {
  let isChanged = false;
  for (let end = 0; end < shape.boneCount; end++) {
    const above = shape.parents[end];
    const part = plainPart(names.bones[end]);
    if (
      above < 0 ||
      moves(above) ||
      !(moves(end) || part === 'foot' || part === 'hand') ||
      shape.reaches[end] > END_REACH_SHARE * shape.size
    )
      continue;
    const tip = tipAt(shape, end, (bone) => !moves(bone) && (moves(end) || strongestPart(names.bones[bone]) !== part));
    const limb =
      tip !== null
        ? shape.parents[tip]
        : (limbNamedAbove(shape, names, end) ?? (part ? null : limbLeadingTo(shape, names, end)));
    if (limb === null || limb === above) continue;
    hang(parents, end, limb);
    isChanged = true;
  }
  return isChanged;
}

/** The leaf of a deeper branch, with a segment of its own above it, that stands where a bone does; null for none. */
function tipAt(shape: RigShape, bone: number, canBe: (tip: number) => boolean): number | null {
  for (let tip = 0; tip < shape.boneCount; tip++) {
    if (
      shape.children[tip].length > 0 ||
      shape.depths[tip] <= shape.depths[bone] ||
      shape.lengths[tip] < SEGMENT_SHARE * shape.size
    )
      continue;
    if (distance(shape.positions[tip], shape.positions[bone]) > SAME_PLACE_SHARE * shape.size) continue;
    if (!isAncestor(shape, bone, tip) && canBe(tip)) return tip;
  }
  return null;
}

/** What a limb's last segment leads to lies as far on as it is long, within these shares, and in its direction. */
const GOES_ON_SHARES = [0.5, 1.6] as const;
const GOES_ON_RAD = 0.9;

/** The limb that ends in nothing and leads to a bone that no name tells; null for none. */
function limbLeadingTo(shape: RigShape, names: NameReadings, end: number): number | null {
  let [limb, least] = [-1, Infinity];
  for (let bone = 0; bone < shape.boneCount; bone++) {
    const isLimb =
      shape.children[bone].length === 0 &&
      shape.depths[bone] > shape.depths[end] &&
      shape.lengths[bone] > SEGMENT_SHARE * shape.size &&
      strongestPart(names.bones[bone]) === null;
    if (!isLimb || isAncestor(shape, end, bone)) continue;
    const way = subtract(shape.positions[end], shape.positions[bone]);
    const turn = angleBetween(way, subtract(shape.positions[bone], shape.positions[shape.parents[bone]]));
    const share = lengthOf(way) / shape.lengths[bone];
    if (share < GOES_ON_SHARES[0] || share > GOES_ON_SHARES[1] || turn > GOES_ON_RAD) continue;
    const oddness = Math.abs(Math.log(share)) + turn;
    if (oddness < least) [limb, least] = [bone, oddness];
  }
  return limb < 0 ? null : limb;
}

/** The shin or forearm that the only bone of its side called foot or hand belongs to, where nothing goes on from it; null for none. */
function limbNamedAbove(shape: RigShape, names: NameReadings, end: number): number | null {
  const [part, side] = [plainPart(names.bones[end]), names.bones[end].side];
  const wanted = part === 'foot' ? 'lowerLeg' : part === 'hand' ? 'lowerArm' : null;
  if (!wanted || side === null) return null;
  const called = (said: BodyConcept | null) =>
    [...shape.parents.keys()].filter(
      (bone) => names.bones[bone].side === side && plainPart(names.bones[bone]) === said,
    );
  const isOnlyOne = called(part).length === 1;
  const [limb, ...others] = called(wanted).filter((bone) =>
    shape.children[bone].every((child) => shape.children[child].length === 0),
  );
  return isOnlyOne && limb !== undefined && others.length === 0 ? limb : null;
}
