import type { BodyConcept } from '../../dialect/concepts';
import type { NameReadings } from '../../dialect/read-names';
import { distance } from '../../math/vec3';
import { isAncestor, type RigShape } from '../../rig/rig-shape';
import { plainPart, strongestPart } from '../names/name-score';

/** A bone with this share of all bones as its children (or as many roots) makes a flat rig. */
const FLAT_SHARE = 0.45;
const MIN_FLAT_BONES = 6;
/** Roots, and what hangs on them or on a container below them. */
const MAX_FLAT_DEPTH = 2;
/** Bones nearer to each other than this share of the rig's size stand at one place. */
const SAME_PLACE_SHARE = 0.004;

/**
 * Parents that follow the body where the rig's own tree does not: flat rigs, limbs without a parent, skin on copies of
 * the bones that lead, digits that hang on a target bone at the hand. Null where the rig's own tree will do. Used for
 * judging only; the rig keeps its tree.
 */
export function parentsAlongBody(
  shape: RigShape,
  names: NameReadings,
  carriesSkin: (bone: number) => boolean,
): Int32Array | null {
  if (shape.boneCount < MIN_FLAT_BONES) return null;
  if (isFlat(shape, carriesSkin)) return growFromMiddle(shape, names);
  const parents = Int32Array.from(shape.parents);
  const moves = (bone: number) => shape.hasSkin && carriesSkin(bone);
  const isSwapped = leadBySkin(shape, names, moves, parents);
  const isAdopted = adoptFromTargets(shape, names, carriesSkin, parents);
  const isEnded = adoptEnds(shape, names, moves, parents);
  const isJoined = joinLooseTrees(shape, names, moves, parents);
  return isSwapped || isAdopted || isEnded || isJoined ? parents : null;
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

/** Weight of the way already travelled: near 1 bones hang on what leads to them, not on whatever stands next to them. */
const WAY_WEIGHT = 0.85;

/** Whether a bone hangs on another one that does not hold half the rig. */
const isLink = (shape: RigShape, above: number, below: number): boolean =>
  shape.parents[below] === above && shape.children[above].length < MIN_FLAT_BONES;

/** What is left of a way that the rig's own tree goes too: a flat rig may be flat in parts only. */
const LINKED = 0.5;

/**
 * A tree over places, grown outward from the hips: each bone takes the parent that is near and itself near the hips.
 * Names keep arms from growing out of thighs they hang beside.
 * Source: the trade-off between shortest-path and minimum spanning trees (Alpert et al. 1995).
 */
function growFromMiddle(shape: RigShape, names: NameReadings): Int32Array {
  const count = shape.boneCount;
  const parents = new Int32Array(count).fill(-1);
  const ways = new Float64Array(count).fill(Infinity);
  const costs = new Float64Array(count).fill(Infinity);
  const isDone = new Uint8Array(count);
  const called = calledIn(names);
  const start = middleBone(shape, names);
  ways[start] = 0;
  costs[start] = 0;
  for (let round = 0; round < count; round++) {
    let next = -1;
    for (let bone = 0; bone < count; bone++) if (!isDone[bone] && (next < 0 || costs[bone] < costs[next])) next = bone;
    isDone[next] = 1;
    for (let bone = 0; bone < count; bone++) {
      if (isDone[bone]) continue;
      const isLinked = isLink(shape, next, bone) || isLink(shape, bone, next);
      const step = distance(shape.positions[next], shape.positions[bone]) * (isLinked ? LINKED : 1);
      const cost = step + WAY_WEIGHT * ways[next] + strangeness(names, called, next, bone) * shape.size;
      if (cost < costs[bone]) {
        costs[bone] = cost;
        ways[bone] = ways[next] + step;
        parents[bone] = next;
      }
    }
  }
  return parents;
}

/** Parts that a part may hang on, by what names call them; the likelier first. */
const ABOVE: Partial<Record<BodyConcept, readonly BodyConcept[]>> = {
  spine: ['spine', 'hips'],
  chest: ['spine', 'chest', 'hips'],
  neck: ['neck', 'chest', 'spine'],
  head: ['neck', 'chest', 'spine'],
  jaw: ['head'],
  eye: ['head'],
  shoulder: ['chest', 'spine', 'neck'],
  upperArm: ['shoulder', 'chest', 'spine', 'neck', 'upperArm'],
  lowerArm: ['upperArm', 'lowerArm'],
  hand: ['lowerArm', 'upperArm'],
  thumb: ['thumb', 'hand'],
  index: ['index', 'hand'],
  middle: ['middle', 'hand'],
  ring: ['ring', 'hand'],
  little: ['little', 'hand'],
  finger: ['finger', 'hand'],
  upperLeg: ['hips', 'spine', 'upperLeg'],
  lowerLeg: ['upperLeg', 'lowerLeg'],
  foot: ['lowerLeg', 'upperLeg'],
  toes: ['foot', 'toes'],
};

/** More than any way through a body, so that a bone waits for its proper parent. */
const OUT_OF_QUESTION = 2;
/** What the next likely part costs; a bent knee brings the foot nearer to the thigh than that. */
const SECOND_CHOICE = 0.25;
/** What a bone without a word costs as the parent of a part, where the rig has a bone that is called the right one. */
const UNCALLED = 0.6;

/** Parts that a rig's names speak of, once for the middle, once for each side: what it does not have it cannot hang on. */
type Called = ReadonlySet<string>;

const calledIn = (names: NameReadings): Called =>
  new Set(
    names.bones.flatMap((reading) => {
      const part = strongestPart(reading);
      return part ? [`${part} ${reading.side ?? ''}`] : [];
    }),
  );

/** The parts that a part may hang on, of those that the rig has on its side or in the middle. */
const aboveIn = (called: Called, to: BodyConcept, side: string | null): readonly BodyConcept[] =>
  (ABOVE[to] ?? []).filter((part) => called.has(`${part} `) || (side !== null && called.has(`${part} ${side}`)));

/** How odd it would be for `child` to hang on `parent`, as a share of the rig's size. */
function strangeness(names: NameReadings, called: Called, parent: number, child: number): number {
  const [above, below] = [names.bones[parent], names.bones[child]];
  const isSpareWord = Object.keys(above.other).length > 0;
  let cost = isSpareWord ? (strongestPart(below) ? 0.8 : 0.2) : 0;
  if (above.side && below.side && above.side !== below.side) cost += OUT_OF_QUESTION;
  const [from, to] = [strongestPart(above), strongestPart(below)];
  const choices = to ? aboveIn(called, to, below.side) : [];
  if (from && to) {
    const rank = (choices.length > 0 ? choices : [from]).findIndex(
      (part) => part === from || (above.body[part] ?? 0) >= 0.7,
    );
    cost += rank < 0 ? OUT_OF_QUESTION : rank * SECOND_CHOICE;
  } else if (to && choices.some((part) => part !== to)) cost += UNCALLED;
  if (from && from === to && (above.numbers[0] ?? 0) > (below.numbers[0] ?? 0)) cost += OUT_OF_QUESTION;
  return cost;
}

/** The bone called hips, else the one called a part of the trunk or none that is nearest to all others. */
function middleBone(shape: RigShape, names: NameReadings): number {
  const named = names.bones.findIndex(
    (reading) => (reading.body.hips ?? 0) >= 0.9 && reading.side === null && Object.keys(reading.other).length === 0,
  );
  if (named >= 0) return named;
  const all = [...shape.parents.keys()];
  const trunk = all.filter((bone) => TRUNK.has(strongestPart(names.bones[bone]) ?? ''));
  const uncalled = all.filter((bone) => strongestPart(names.bones[bone]) === null);
  const [candidates] = [trunk, uncalled, all].filter((list) => list.length > 0);
  return mostCentral(shape, candidates);
}

const TRUNK: ReadonlySet<string> = new Set(['hips', 'spine', 'chest']);

/** Of some bones the one whose distances to all bones add up to least. */
function mostCentral(shape: RigShape, candidates: readonly number[]): number {
  let best = candidates[0];
  let bestSum = Infinity;
  for (const bone of candidates) {
    let sum = 0;
    for (let other = 0; other < shape.boneCount && sum < bestSum; other++)
      sum += distance(shape.positions[bone], shape.positions[other]);
    if (sum < bestSum) [best, bestSum] = [bone, sum];
  }
  return best;
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

/** Digits that hang on a target at the hand go to the bone that stands there and carries the mesh. */
function adoptFromTargets(
  shape: RigShape,
  names: NameReadings,
  carriesSkin: (bone: number) => boolean,
  parents: Int32Array,
): boolean {
  if (!shape.hasSkin) return false;
  let isChanged = false;
  for (let target = 0; target < shape.boneCount; target++) {
    if (shape.children[target].length < 2) continue;
    for (let hand = 0; hand < shape.boneCount; hand++) {
      if (hand === target || !carriesSkin(hand) || shape.children[hand].length > 1) continue;
      // Both move vertices: the one that ends its limb and is called so has the digits.
      if (carriesSkin(target) && !endsAsHand(shape, names, hand)) continue;
      if (distance(shape.positions[hand], shape.positions[target]) > SAME_PLACE_SHARE * shape.size) continue;
      if (isAncestor(shape, target, hand) || isAncestor(shape, hand, target)) continue;
      for (const child of shape.children[target]) hang(parents, child, hand);
      isChanged = true;
      break;
    }
  }
  return isChanged;
}

const endsAsHand = (shape: RigShape, names: NameReadings, bone: number): boolean =>
  shape.children[bone].length === 0 && plainPart(names.bones[bone]) === 'hand';

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
    const limb = tip === null ? limbNamedAbove(shape, names, end) : shape.parents[tip];
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

/** A leaf nearer to its parent than this share of the rig's size ends no limb. */
const SEGMENT_SHARE = 0.05;

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

/**
 * Trees that stand apart are joined to the largest one, the nearest first, so that a hand finds the arm that was just
 * joined: trees with parents of their own, and what hangs scattered on a root far from the body.
 */
function joinLooseTrees(
  shape: RigShape,
  names: NameReadings,
  moves: (bone: number) => boolean,
  parents: Int32Array,
): boolean {
  const loose = looseTrees(shape, names, moves);
  if (loose.length < 2) return false;
  const sizes = new Map(loose.map((root) => [root, treeWeight(shape, names, root)]));
  const heaviest = loose.reduce((best, root) => ((sizes.get(root) ?? 0) > (sizes.get(best) ?? 0) ? root : best));
  // Without a word for the trunk, and no tree that is most of the rig, the middle tells: an arm may have the most bones.
  const main = (sizes.get(heaviest) ?? 0) >= MAIN_SHARE * shape.boneCount ? heaviest : mostCentral(shape, loose);
  const called = calledIn(names);
  const waiting = new Map(loose.filter((root) => root !== main).map((root) => [root, { parent: -1, cost: Infinity }]));
  for (let joined = main; ;) {
    for (const [root, best] of waiting) {
      const nearest = nearestIn(shape, names, called, joined, root);
      if (nearest.cost < best.cost) waiting.set(root, nearest);
    }
    const [next, { parent }] = [...waiting].reduce(
      (best, entry) => (entry[1].cost < best[1].cost ? entry : best),
      [-1, { parent: -1, cost: Infinity }],
    );
    if (next < 0) return true;
    hang(parents, leaderOf(shape, parents, next), leaderOf(shape, parents, parent));
    waiting.delete(next);
    joined = next;
  }
}

/** Hangs a bone on another one, unless that one hangs on it already: trees that were changed before may cross. */
function hang(parents: Int32Array, bone: number, parent: number): void {
  for (let above = parent; above >= 0; above = parents[above]) if (above === bone) return;
  parents[bone] = parent;
}

/** The bone that now leads instead of a bone, where a copy below took its place. */
function leaderOf(shape: RigShape, parents: Int32Array, bone: number): number {
  let leader = bone;
  while (parents[leader] >= 0 && isAncestor(shape, bone, parents[leader])) leader = parents[leader];
  return leader;
}

/** This many trees on one root that moves nothing are scattered parts of a body. */
const MIN_SCATTERED = 6;
/** Scattered parts lie this share of the rig's size from their root; a skirt's strands lie near the hips. */
const SCATTER_SHARE = 0.2;

/** A tree with this share of the bones is the body. */
const MAIN_SHARE = 0.4;

function looseTrees(shape: RigShape, names: NameReadings, moves: (bone: number) => boolean): number[] {
  const roots = [...shape.parents.keys()].filter((bone) => shape.parents[bone] < 0);
  const trees = roots.filter((bone) => shape.subtreeCounts[bone] >= 2);
  // A trunk or a head may be a single bone, where the limbs are trees of their own.
  const single = roots.filter((bone) => shape.subtreeCounts[bone] < 2 && (moves(bone) || plainPart(names.bones[bone])));
  const tops = trees.length > 1 ? [...trees, ...single] : trees;
  return tops.flatMap((top) => {
    if (moves(top)) return [top];
    const parts = shape.children[top].filter(
      (child) => shape.subtreeCounts[child] >= 2 || moves(child) || strongestPart(names.bones[child]),
    );
    const isFar = parts.filter((part) => shape.lengths[part] > SCATTER_SHARE * shape.size).length * 2 > parts.length;
    return parts.length >= MIN_SCATTERED && isFar ? parts : [top];
  });
}

/** How far a tree looks like the one with the trunk: bones named so, then the number of bones. */
function treeWeight(shape: RigShape, names: NameReadings, root: number): number {
  let weight = shape.subtreeCounts[root];
  const visit = (bone: number) => {
    const part = strongestPart(names.bones[bone]);
    if (part && ['hips', 'spine', 'chest', 'neck', 'head'].includes(part)) weight += shape.boneCount;
    shape.children[bone].forEach(visit);
  };
  visit(root);
  return weight;
}

/** The bone of a tree that another tree would hang on, and how far that is from likely. */
function nearestIn(
  shape: RigShape,
  names: NameReadings,
  called: Called,
  tree: number,
  root: number,
): { parent: number; cost: number } {
  const best = { parent: -1, cost: Infinity };
  for (let bone = 0; bone < shape.boneCount; bone++) {
    if (bone !== tree && !isAncestor(shape, tree, bone)) continue;
    const cost =
      distance(shape.positions[bone], shape.positions[root]) + strangeness(names, called, bone, root) * shape.size;
    if (cost < best.cost) [best.parent, best.cost] = [bone, cost];
  }
  return best;
}
