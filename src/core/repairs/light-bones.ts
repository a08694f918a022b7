import { boneRolesOf } from '../fit/fit';
import type { HandoffPlan } from '../plan/handoff-plan';
import { leftoverBones } from './leftover-bones';

/**
 * Bones to merge until a skeleton has no more than so many: those that move nothing first, then leaves without a role,
 * the lightest first; their weights go to their parents. Fewer where no more can go.
 */
export function lightBones(plan: Pick<HandoffPlan, 'rig' | 'fit'>, most: number): number[] {
  const { rig, fit } = plan;
  const gone = new Set(leftoverBones(plan));
  const order = [...gone];
  const roles = boneRolesOf(fit);
  const held = new Set(rig.extras.filter(({ kind }) => kind === 'rigid-mesh').map(({ parentBone }) => parentBone));
  while (rig.bones.length - gone.size > most) {
    const parents = new Set(rig.bones.filter(({ index }) => !gone.has(index)).map(({ parent }) => parent));
    const [lightest] = rig.bones
      .filter(
        ({ index, parent }) =>
          parent >= 0 && !gone.has(index) && !roles.has(index) && !held.has(index) && !parents.has(index),
      )
      .sort((a, b) => a.skinWeight - b.skinWeight || b.index - a.index);
    if (!lightest) break;
    gone.add(lightest.index);
    order.push(lightest.index);
  }
  return order;
}
