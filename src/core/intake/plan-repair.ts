import { isAbove, parentsOf } from '../rig/bone-tree';
import type { Rig } from '../rig/rig';

/** A repair of the tree as a person is about to make it; bones of the rig as it stands. */
export type PlannedRepair =
  | { readonly kind: 'collapse' | 'insert'; readonly bones: readonly number[] }
  | { readonly kind: 'reparent'; readonly bones: readonly number[]; readonly parent: number };

/** What a planned repair will do to the tree, for showing it beforehand. */
export interface RepairOutlook {
  /** Links that the tree does not have yet. */
  readonly links: readonly (readonly [parent: number, child: number])[];
  /** Bones that will go. */
  readonly gone: readonly number[];
  /** New joints: on the way from a bone to its child, `share` of it along. */
  readonly joints: readonly { readonly from: number; readonly to: number; readonly share: number }[];
}

/** Share of the way from its parent at which a new joint is put. */
export const INSERT_SHARE = 0.5;

/** Whether the tree allows a repair: bones to merge or to put a joint above have a parent, and none comes to hang on itself. */
export function isPossible(rig: Rig, plan: PlannedRepair): boolean {
  if (plan.bones.length === 0) return false;
  if (plan.kind !== 'reparent') return plan.bones.every((bone) => rig.bones[bone].parent >= 0);
  const parents = parentsOf(rig);
  return plan.bones.every((bone) => bone !== plan.parent && !isAbove(parents, bone, plan.parent));
}

/** What a planned repair comes to. */
export function outlookOf(rig: Rig, plan: PlannedRepair): RepairOutlook {
  if (plan.kind === 'reparent')
    return { links: plan.bones.map((bone) => [plan.parent, bone] as const), gone: [], joints: [] };
  if (plan.kind === 'insert')
    return {
      links: [],
      gone: [],
      joints: plan.bones.map((bone) => ({ from: rig.bones[bone].parent, to: bone, share: INSERT_SHARE })),
    };
  const gone = new Set(plan.bones);
  const stayingAbove = (bone: number): number => {
    const { parent } = rig.bones[bone];
    return gone.has(parent) ? stayingAbove(parent) : parent;
  };
  const orphans = rig.bones.filter(({ index, parent }) => gone.has(parent) && !gone.has(index));
  return {
    links: orphans.map(({ index }) => [stayingAbove(index), index] as const).filter(([parent]) => parent >= 0),
    gone: [...gone],
    joints: [],
  };
}
