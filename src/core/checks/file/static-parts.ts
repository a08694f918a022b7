import { distinct, factsOf, listNames, type Check } from '../finding';

/** Every mesh of a figure is bound to its skeleton, or hangs on one of its bones. */
export const checkStaticParts: Check = (plan) => {
  const { rig } = plan;
  if (rig.skinCount === 0) return [];
  const still = new Set(rig.extras.filter(({ kind }) => kind === 'static-mesh').map(({ nodeIndex }) => nodeIndex));
  const parts = distinct(
    factsOf(plan)
      .parts.filter(({ nodeIndex }) => still.has(nodeIndex))
      .map(({ name }) => name),
  );
  if (parts.length === 0) return [];
  return [
    {
      aspect: 'unbound',
      severity: plan.profile.staticMeshes ? 'caution' : 'blocker',
      sentence: `${listNames(parts)} ${parts.length === 1 ? 'is' : 'are'} bound to no bone.`,
      measured: `${parts.length} parts`,
      allowed: 'none',
      amount: { measured: parts.length, allowed: 0, unit: 'parts' },
      why: 'It stays where it is while the figure walks off.',
      remedy: 'Hang it on the nearest bone, or leave it out on Intake.',
      parts,
      repair: 'hang-static-parts',
    },
  ];
};
