import type { Check } from '../finding';

/** As many bones as the engine's skeletons hold. */
export const checkBoneCount: Check = ({ rig, profile, names }) => {
  const most = profile.limits.bonesPerSkeleton;
  const count = rig.bones.length + (names.addsRoot ? 1 : 0);
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
      repair: 'drop-leftover-bones',
    },
  ];
};
