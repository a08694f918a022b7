import { translationOf } from '../math/mat4';
import { distance, type Vec3 } from '../math/vec3';
import type { Rig } from './rig';

/** What the tree and the places of a rig say, computed once and read by every later stage. File space, file units. */
export interface RigShape {
  readonly boneCount: number;
  readonly parents: Int32Array;
  readonly children: readonly (readonly number[])[];
  /** World rest position of each bone's head. */
  readonly positions: readonly Vec3[];
  readonly depths: Int32Array;
  /** Bones below each bone, itself included. */
  readonly subtreeCounts: Int32Array;
  /** Longest way down from each bone along the bones, file units. */
  readonly reaches: Float64Array;
  /** Leaf bones below each bone (1 for a leaf). */
  readonly leafCounts: Int32Array;
  /** The bone at the end of the longest way down from each bone; the bone itself for a leaf. */
  readonly tips: Int32Array;
  /** Place of each bone when the tree is walked down branch by branch: a bone's subtree is an unbroken row from there. */
  readonly entries: Int32Array;
  /** Distance to the parent's head; 0 for a root. */
  readonly lengths: Float64Array;
  /** Largest extent of the joints' bounds: the yardstick of all tolerances. */
  readonly size: number;
  readonly hasSkin: boolean;
}

export interface ShapeOptions {
  /** Parent per bone in place of the rig's own, for judging a rig whose tree does not follow the body. */
  readonly parents?: ArrayLike<number>;
}

/** @throws {RangeError} if a given parent list has another length than the rig. */
export function computeRigShape(rig: Rig, options: ShapeOptions = {}): RigShape {
  const boneCount = rig.bones.length;
  if (options.parents && options.parents.length !== boneCount) {
    throw new RangeError(`computeRigShape: ${options.parents.length} parents for ${boneCount} bones`);
  }
  const parents = Int32Array.from(options.parents ?? rig.bones.map((bone) => bone.parent));
  const positions = rig.bones.map((bone) => translationOf(bone.restWorld));
  const children: number[][] = rig.bones.map(() => []);
  for (let bone = 0; bone < boneCount; bone++) if (parents[bone] >= 0) children[parents[bone]].push(bone);

  const order = parentFirstOrder(parents, children);
  const depths = new Int32Array(boneCount);
  const lengths = new Float64Array(boneCount);
  const subtreeCounts = new Int32Array(boneCount).fill(1);
  const leafCounts = new Int32Array(boneCount);
  const reaches = new Float64Array(boneCount);
  for (const bone of order) {
    const parent = parents[bone];
    if (parent < 0) continue;
    depths[bone] = depths[parent] + 1;
    lengths[bone] = distance(positions[bone], positions[parent]);
  }
  for (let at = order.length - 1; at >= 0; at--) {
    const bone = order[at];
    if (children[bone].length === 0) leafCounts[bone] = 1;
    const parent = parents[bone];
    if (parent < 0) continue;
    subtreeCounts[parent] += subtreeCounts[bone];
    leafCounts[parent] += leafCounts[bone];
    reaches[parent] = Math.max(reaches[parent], reaches[bone] + lengths[bone]);
  }
  const tips = Int32Array.from(parents.keys());
  for (let at = order.length - 1; at >= 0; at--) {
    const bone = order[at];
    let farthest = -1;
    for (const child of children[bone]) {
      if (farthest < 0 || reaches[child] + lengths[child] > reaches[farthest] + lengths[farthest]) farthest = child;
    }
    if (farthest >= 0) tips[bone] = tips[farthest];
  }
  return {
    boneCount,
    tips,
    entries: walkOrder(parents, children, order, subtreeCounts),
    parents,
    children,
    positions,
    depths,
    subtreeCounts,
    reaches,
    leafCounts,
    lengths,
    size: largestExtent(positions),
    hasSkin: rig.bones.some((bone) => bone.skinWeight > 0),
  };
}

/** Bones so that each comes after its parent, whatever the numbering. */
function parentFirstOrder(parents: Int32Array, children: readonly (readonly number[])[]): number[] {
  const order: number[] = [];
  for (let bone = 0; bone < parents.length; bone++) if (parents[bone] < 0) order.push(bone);
  for (let at = 0; at < order.length; at++) order.push(...children[order[at]]);
  return order;
}

/** Number of each bone in a walk that finishes one branch before it starts the next. */
function walkOrder(
  parents: Int32Array,
  children: readonly (readonly number[])[],
  order: readonly number[],
  subtreeCounts: Int32Array,
): Int32Array {
  const entries = new Int32Array(parents.length);
  let nextRoot = 0;
  for (const bone of order) {
    if (parents[bone] < 0) {
      entries[bone] = nextRoot;
      nextRoot += subtreeCounts[bone];
    }
    let next = entries[bone] + 1;
    for (const child of children[bone]) {
      entries[child] = next;
      next += subtreeCounts[child];
    }
  }
  return entries;
}

export function largestExtent(points: readonly Vec3[]): number {
  let size = 0;
  for (const axis of [0, 1, 2] as const) {
    let [low, high] = [Infinity, -Infinity];
    for (const point of points) {
      low = Math.min(low, point[axis]);
      high = Math.max(high, point[axis]);
    }
    if (high > low) size = Math.max(size, high - low);
  }
  return size;
}

/** True if `ancestor` lies strictly above `bone`. */
export function isAncestor(
  shape: Pick<RigShape, 'entries' | 'subtreeCounts'>,
  ancestor: number,
  bone: number,
): boolean {
  const below = shape.entries[bone] - shape.entries[ancestor];
  return below > 0 && below < shape.subtreeCounts[ancestor];
}

/** Deepest bone that is above or equal to both, or -1 when they share none. */
export function commonAncestor(shape: Pick<RigShape, 'parents' | 'depths'>, a: number, b: number): number {
  let [x, y] = [a, b];
  while (x !== y) {
    if (x < 0 || y < 0) return -1;
    if (shape.depths[x] >= shape.depths[y]) x = shape.parents[x];
    else y = shape.parents[y];
  }
  return x;
}

/** Bones from just below `top` down to and including `bone`; null when `top` is not above `bone`. -1 as top: from the root. */
export function pathBelow(shape: Pick<RigShape, 'parents'>, top: number, bone: number): number[] | null {
  const path: number[] = [];
  for (let at = bone; at !== top; at = shape.parents[at]) {
    if (at < 0) return null;
    path.push(at);
  }
  return path.reverse();
}
