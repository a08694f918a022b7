import { leftoverBones } from '../../repairs/leftover-bones';
import type { Check } from '../finding';

/** As many bones as the engine's skeletons hold. */
export const checkBoneCount: Check = (plan) => {
  const { rig, profile, names, helpers } = plan;
  const most = profile.limits.bonesPerSkeleton;
  const count = rig.bones.length + (names.addsRoot ? 1 : 0) + helpers.length;
  if (most === null || count <= most) return [];
  return [
    {
      aspect: 'skeleton',
      severity: 'blocker',
      sentence: `The skeleton would have ${count} bones; ${profile.label} takes ${most}.`,
      measured: `${count} bones`,
      allowed: `at most ${most}`,
      amount: { measured: count, allowed: most, unit: 'bones' },
      why: 'An engine with a smaller table refuses the skeleton, or drops the last bones.',
      remedy: 'Drop bones that move nothing, or merge small ones into their parents on Match.',
      // What moves nothing goes first; to merge what is seen is for a person to choose.
      repair: leftoverBones(plan).length > 0 ? 'drop-leftover-bones' : 'merge-light-bones',
    },
  ];
};
