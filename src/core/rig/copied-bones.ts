import { distance, type Vec3 } from '../math/vec3';
import { isAbove } from './bone-tree';
import type { Rig } from './rig';
import { largestExtent } from './rig-shape';

/** A bone that repeats another one by name and place. Bone indices. */
export interface CopiedBone {
  readonly copy: number;
  readonly original: number;
}

/** Same place: within this share of the figure's size. */
const PLACE_TOLERANCE = 2e-3;
const FEWEST = 3;
/** Copies whose parents are copies too; below this they are helpers lying on the limb, not a second skeleton. */
const TREE_SHARE = 0.5;

/**
 * Skeletons that clothing brought along: bones at the places of the figure's own, with the same names or names that
 * differ by one addition common to them all, in a tree of their own. Empty where there are none.
 */
export function findCopiedBones(rig: Rig): readonly CopiedBone[] {
  const known = copiesOf.get(rig);
  if (known) return known;
  const copies = seekCopiedBones(rig);
  copiesOf.set(rig, copies);
  return copies;
}

/** Worked out once for each rig: a rig never changes, and several checks of every plan ask. */
const copiesOf = new WeakMap<Rig, readonly CopiedBone[]>();

function seekCopiedBones(rig: Rig): CopiedBone[] {
  const places = rig.bones.map((bone): Vec3 => [bone.restWorld[12], bone.restWorld[13], bone.restWorld[14]]);
  const tolerance = largestExtent(places) * PLACE_TOLERANCE;
  const parents = rig.bones.map((bone) => bone.parent);
  const byAddition = new Map<string, CopiedBone[]>();
  for (const [first, second] of pairsAtOnePlace(places, tolerance)) {
    if (isAbove(parents, first, second) || isAbove(parents, second, first)) continue;
    const pair = namePair(rig, first, second);
    if (pair) byAddition.set(pair.addition, [...(byAddition.get(pair.addition) ?? []), pair]);
  }
  const taken = new Set<number>();
  const copies: CopiedBone[] = [];
  for (const group of [...byAddition.values()].sort((a, b) => b.length - a.length)) {
    const fresh = orient(rig, group).filter(({ copy, original }) => !taken.has(copy) && !taken.has(original));
    if (fresh.length < FEWEST || !isOwnTree(fresh, parents)) continue;
    for (const pair of fresh) {
      // Each copy has one original.
      if (taken.has(pair.copy)) continue;
      taken.add(pair.copy);
      copies.push(pair);
    }
  }
  return copies.sort((a, b) => a.copy - b.copy);
}

/** The pair with the longer name as the copy, and what its name has more; null where the names do not agree. */
function namePair(rig: Rig, a: number, b: number): (CopiedBone & { addition: string }) | null {
  const [nameA, nameB] = [rig.bones[a], rig.bones[b]].map((bone) => (bone.isNamed ? bone.name.toLowerCase() : ''));
  if (!nameA || !nameB) return null;
  if (nameA === nameB) return { original: a, copy: b, addition: '' };
  const [short, long, original, copy] = nameA.length < nameB.length ? [nameA, nameB, a, b] : [nameB, nameA, b, a];
  if (short.length < 2) return null;
  if (long.startsWith(short)) return { original, copy, addition: `${long.slice(short.length)}|` };
  if (long.endsWith(short)) return { original, copy, addition: `|${long.slice(0, -short.length)}` };
  return null;
}

/** With equal names the names do not tell which skeleton is the figure's: the larger tree is. */
function orient(rig: Rig, group: readonly CopiedBone[]): CopiedBone[] {
  const topOf = (bone: number) => {
    let top = bone;
    while (rig.bones[top].parent >= 0) top = rig.bones[top].parent;
    return top;
  };
  const sizes = new Map<number, number>();
  for (const bone of rig.bones) sizes.set(topOf(bone.index), (sizes.get(topOf(bone.index)) ?? 0) + 1);
  return group.map(({ copy, original }) => {
    const isSameName = rig.bones[copy].name.toLowerCase() === rig.bones[original].name.toLowerCase();
    const isLarger = (sizes.get(topOf(copy)) ?? 0) > (sizes.get(topOf(original)) ?? 0);
    return isSameName && isLarger ? { copy: original, original: copy } : { copy, original };
  });
}

function isOwnTree(pairs: readonly CopiedBone[], parents: readonly number[]): boolean {
  const copies = new Set(pairs.map((pair) => pair.copy));
  const originals = new Set(pairs.map((pair) => pair.original));
  const inTree = pairs.filter(
    ({ copy }) =>
      copies.has(parents[copy]) ||
      (!originals.has(parents[copy]) && pairs.some((other) => parents[other.copy] === copy)),
  );
  return inTree.length >= pairs.length * TREE_SHARE;
}

/** Bones nearer to each other than `tolerance`, the lower index first, in the order of their indices. A sweep along x. */
function pairsAtOnePlace(places: readonly Vec3[], tolerance: number): [number, number][] {
  const order = [...places.keys()].sort((a, b) => places[a][0] - places[b][0]);
  const pairs: [number, number][] = [];
  for (let at = 0; at < order.length; at++) {
    const place = places[order[at]];
    for (let next = at + 1; next < order.length && places[order[next]][0] - place[0] <= tolerance; next++) {
      if (distance(place, places[order[next]]) <= tolerance)
        pairs.push([Math.min(order[at], order[next]), Math.max(order[at], order[next])]);
    }
  }
  return pairs.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
}
