import { rootAboveHips, type FitState } from '../fit/fit';
import { isAbove, parentsOf } from '../rig/bone-tree';
import type { Rig } from '../rig/rig';
import { shippedAbove, type ShippedTree } from './shipped-tree';

/**
 * Bones of a shipped skeleton and the character's own that stand for them, by index: mapped bones by their role, the root
 * by its place above the hips, others by their name, where they hang below the same ones.
 * @param names of the character's bones, to be held against the shipped ones' besides their own.
 */
export function pairBones(
  { rig, fit }: { readonly rig: Rig; readonly fit: Pick<FitState, 'assignments'> },
  shipped: ShippedTree,
  names: readonly string[] = [],
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
  const hips = shipped.byRole.get('hips');
  const root = rootAboveHips(rig, fit);
  const theirRoot = hips === undefined ? undefined : shippedAbove(shipped, hips).at(-1);
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
