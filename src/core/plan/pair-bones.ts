import { rootAboveHips, type FitState } from '../fit/fit';
import { isAbove, parentsOf } from '../rig/bone-tree';
import type { Rig } from '../rig/rig';
import type { ShippedSkeleton } from '../profile/profile';
import type { Definition } from '../definition/definition';
import { shippedAbove, shippedRoot, shippedTree, type ShippedTree } from './shipped-tree';

/**
 * Bones of a shipped skeleton and the character's own that stand for them, by index: mapped bones by their role, the root
 * by its place above the hips, others by their name, where they hang below the same ones.
 * @param names of the character's bones, to be held against the shipped ones' besides their own.
 */
function pairBones(
  { rig, fit }: { readonly rig: Rig; readonly fit: Pick<FitState, 'assignments'> },
  shipped: ShippedTree,
  names: readonly string[],
): ReadonlyMap<number, number> {
  const pairs = new Map<number, number>();
  const taken = new Set<number>();
  const pair = (theirs: number, own: number): void => {
    pairs.set(theirs, own);
    taken.add(own);
  };
  for (const [role, theirs] of shipped.byRole) {
    const own = fit.assignments[role]?.boneIndex;
    if (own !== undefined) pair(theirs, own);
  }
  const root = rootAboveHips(rig, fit);
  const theirRoot = shippedRoot(shipped);
  if (root !== null && theirRoot !== undefined && !taken.has(root) && !pairs.has(theirRoot)) pair(theirRoot, root);
  const mapped = new Set(Object.values(fit.assignments).map(({ boneIndex }) => boneIndex));
  const parents = parentsOf(rig);
  const byName = new Map<string, number>();
  for (const { index, name } of rig.bones)
    if (!mapped.has(index))
      for (const each of [name, names[index] ?? name])
        if (!byName.has(each.toLowerCase())) byName.set(each.toLowerCase(), index);
  shipped.bones.forEach(({ name }, theirs) => {
    const own = byName.get(name.toLowerCase());
    if (own === undefined || pairs.has(theirs) || taken.has(own)) return;
    const above = shippedAbove(shipped, theirs).find((each) => pairs.has(each));
    const isBelow = above === undefined || isAbove(parents, pairs.get(above) as number, own);
    if (isBelow) pair(theirs, own);
  });
  return pairs;
}

/** A shipped skeleton as it stands, and the bones of a plan's character that stand for its bones, by their written names too. */
export function pairedWith(
  { rig, fit, definition, names }: PairSubject,
  skeleton: ShippedSkeleton,
): { readonly shipped: ShippedTree; readonly pairs: ReadonlyMap<number, number> } {
  const shipped = shippedTree(skeleton, definition);
  return { shipped, pairs: pairBones({ rig, fit }, shipped, names.names) };
}

interface PairSubject {
  readonly rig: Rig;
  readonly fit: Pick<FitState, 'assignments'>;
  readonly definition: Definition;
  readonly names: { readonly names: readonly string[] };
}
