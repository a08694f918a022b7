import type { HandoffPlan } from '../plan/handoff-plan';

/**
 * Bones that move nothing, have no role and hold nothing that has: from the ends inward, so that each is a leaf when its
 * turn comes. The root and what a rigid mesh hangs on stay.
 */
export function leftoverBones({ rig, fit }: Pick<HandoffPlan, 'rig' | 'fit'>): number[] {
  const needed = rig.bones.map(({ skinVertexCount }) => skinVertexCount > 0);
  for (const { boneIndex } of Object.values(fit.assignments)) needed[boneIndex] = true;
  for (const { kind, parentBone } of rig.extras)
    if (kind === 'rigid-mesh' && parentBone >= 0) needed[parentBone] = true;
  const backwards = [...rig.bones].reverse();
  for (const { index, parent } of backwards) if (parent >= 0 && needed[index]) needed[parent] = true;
  return backwards.filter(({ index, parent }) => !needed[index] && parent >= 0).map(({ index }) => index);
}
