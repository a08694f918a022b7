import type { NameReadings } from '../../dialect/read-names';
import { distance } from '../../math/vec3';
import { isAncestor, type RigShape } from '../../rig/rig-shape';
import { SHAPE_SHARE, shapeDifference } from '../mirror/shape-pairs';
import { plainPart, strongestPart } from '../names/name-score';
import type { Riding } from '../witness/riding';
import { POINTED } from './grow-from-middle';
import { mostCentral } from './central-bone';
import { hang } from './hang';
import { inMiddle } from './in-middle';
import { calledIn, strangeness, type Called } from './likely-parents';

/**
 * Trees that stand apart are joined to the largest one, the nearest first, so that a hand finds the arm that was just
 * joined: trees with parents of their own, and what hangs scattered on a root far from the body.
 */
export function joinLooseTrees(
  shape: RigShape,
  names: NameReadings,
  moves: (bone: number) => boolean,
  parents: Int32Array,
  hints: { readonly pointedAt: () => Int32Array | null; readonly riding: () => Riding | null },
): boolean {
  const loose = looseTrees(shape, names, moves);
  if (loose.length < 2) return false;
  const sizes = new Map(loose.map((root) => [root, treeWeight(shape, names, root)]));
  const heaviest = loose.reduce((best, root) => ((sizes.get(root) ?? 0) > (sizes.get(best) ?? 0) ? root : best));
  // Without a word for the trunk, and no tree that is most of the rig, the middle tells: an arm may have the most bones.
  const main =
    (sizes.get(heaviest) ?? 0) >= MAIN_SHARE * shape.boneCount
      ? heaviest
      : mostCentral(shape, singleIn(shape, inMiddle(shape, loose)));
  const called = calledIn(names);
  const [pointed, riding] = [hints.pointedAt(), hints.riding()];
  const middle = new Set(inMiddle(shape, [...shape.parents.keys()]));
  const waiting = new Map(loose.filter((root) => root !== main).map((root) => [root, { parent: -1, cost: Infinity }]));
  for (let joined = main; ;) {
    for (const [root, best] of waiting) {
      const nearest = nearestIn({ shape, names, called, pointed, riding, middle }, joined, root);
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

/** The bone that now leads instead of a bone, where a copy below took its place. */
function leaderOf(shape: RigShape, parents: Int32Array, bone: number): number {
  let leader = bone;
  while (parents[leader] >= 0 && isAncestor(shape, bone, parents[leader])) leader = parents[leader];
  return leader;
}

/** This many trees on one root that moves nothing are scattered parts of a body. */
const MIN_SCATTERED = 5;
/** Scattered parts lie this share of the rig's size from their root; a skirt's strands lie near the hips. */
const SCATTER_SHARE = 0.2;

/** A tree with this share of the bones is the body. */
const MAIN_SHARE = 0.4;

function looseTrees(shape: RigShape, names: NameReadings, moves: (bone: number) => boolean): number[] {
  const roots = [...shape.parents.keys()].filter((bone) => shape.parents[bone] < 0);
  const trees = roots.filter((bone) => shape.subtreeCounts[bone] >= 2);
  // A trunk or a head may be a single bone, where the limbs are trees of their own.
  const isUntold = !shape.hasSkin && names.bones.every((reading) => strongestPart(reading) === null);
  const single = roots.filter(
    (bone) => shape.subtreeCounts[bone] < 2 && (isUntold || moves(bone) || plainPart(names.bones[bone])),
  );
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

/** What decides where a tree hangs. */
interface Joining {
  readonly shape: RigShape;
  readonly names: NameReadings;
  readonly called: Called;
  /** The bone that each one points at; null where the rig's bones show no axis. */
  readonly pointed: Int32Array | null;
  readonly riding: Riding | null;
  /** Bones in the plane between the sides; all where none is. */
  readonly middle: ReadonlySet<number>;
}

/** Of some roots those that no other one is the mirror image of; all where each has its twin. */
function singleIn(shape: RigShape, roots: readonly number[]): readonly number[] {
  const single = roots.filter((root) => !roots.some((other) => other !== root && areTwins(shape, root, other)));
  return single.length > 0 ? single : roots;
}

/** The bone of a tree that another tree would hang on, and how far that is from likely. */
function nearestIn(
  { shape, names, called, pointed, riding, middle }: Joining,
  tree: number,
  root: number,
): { parent: number; cost: number } {
  const best = { parent: -1, cost: Infinity };
  // A pair of limbs that start side by side hang on the body, not on one another.
  if (areTwins(shape, tree, root)) return best;
  for (let bone = 0; bone < shape.boneCount; bone++) {
    if (bone !== tree && !isAncestor(shape, tree, bone)) continue;
    // What starts in the middle hangs on the middle: a leg not on a forearm that happens to be near.
    if (middle.has(root) && !middle.has(bone)) continue;
    const cost =
      distance(shape.positions[bone], shape.positions[root]) * (pointed?.[bone] === root ? POINTED : 1) +
      (strangeness(names, called, bone, root) + (riding?.(bone, root) ?? 0)) * shape.size;
    if (cost < best.cost) [best.parent, best.cost] = [bone, cost];
  }
  return best;
}

/** Whole limbs of one shape, with segments of their own. */
const areTwins = (shape: RigShape, a: number, b: number): boolean =>
  shape.reaches[a] > TWIN_REACH * shape.size && shapeDifference(shape, a, b) < SHAPE_SHARE;
const TWIN_REACH = 0.15;
