import { distance, type Vec3 } from '../math/vec3';
import { isAbove } from '../rig/bone-tree';
import type { Rig } from '../rig/rig';
import { largestExtent } from '../rig/rig-shape';

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
export function findCopiedBones(rig: Rig): CopiedBone[] {
  const places = rig.bones.map((bone): Vec3 => [bone.restWorld[12], bone.restWorld[13], bone.restWorld[14]]);
  const tolerance = largestExtent(places) * PLACE_TOLERANCE;
  const parents = rig.bones.map((bone) => bone.parent);
  const byAddition = new Map<string, CopiedBone[]>();
  const grid = buckets(places, tolerance);
  for (const bone of rig.bones) {
    for (const other of neighbours(grid, places[bone.index], tolerance)) {
      if (other <= bone.index || distance(places[bone.index], places[other]) > tolerance) continue;
      if (isAbove(parents, bone.index, other) || isAbove(parents, other, bone.index)) continue;
      const pair = namePair(rig, bone.index, other);
      if (pair) byAddition.set(pair.addition, [...(byAddition.get(pair.addition) ?? []), pair]);
    }
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
  const inTree = pairs.filter(({ copy }) => copies.has(parents[copy]) || (!originals.has(parents[copy]) && pairs.some((other) => parents[other.copy] === copy)));
  return inTree.length >= pairs.length * TREE_SHARE;
}

function buckets(places: readonly Vec3[], size: number): Map<string, number[]> {
  const grid = new Map<string, number[]>();
  places.forEach((place, bone) => {
    const key = cell(place, size).join(' ');
    grid.set(key, [...(grid.get(key) ?? []), bone]);
  });
  return grid;
}

const cell = (place: Vec3, size: number): number[] => place.map((value) => Math.floor(value / Math.max(size, 1e-12)));

function neighbours(grid: ReadonlyMap<string, number[]>, place: Vec3, size: number): number[] {
  const [x, y, z] = cell(place, size);
  const out: number[] = [];
  for (let dx = -1; dx <= 1; dx++) for (let dy = -1; dy <= 1; dy++) for (let dz = -1; dz <= 1; dz++) out.push(...(grid.get(`${x + dx} ${y + dy} ${z + dz}`) ?? []));
  return out;
}
