import { strayBones } from '../../plan/stray-bones';
import type { Check } from '../finding';

/** Bones of a limb move nothing on the other side of the body, away from the middle. */
export const checkStrayWeights: Check = (plan) =>
  strayBones(plan).map(({ bone, side, count }) => {
    const { name } = plan.rig.bones[bone];
    return {
      aspect: 'side',
      severity: 'caution' as const,
      sentence: `${name} is on the ${side} and moves ${count} vertices on the other side.`,
      measured: `${count} vertices`,
      allowed: 'none',
      amount: { measured: count, allowed: 0, unit: 'vertices' },
      why: 'A few vertices are dragged across the body when the limb moves.',
      remedy: 'Move these weights to the bone that mirrors it.',
      boneIndices: [bone],
      repair: 'move-stray-weights' as const,
    };
  });
