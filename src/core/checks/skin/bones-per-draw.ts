import { distinct, factsOf, listNames, type Check } from '../finding';

/** No mesh is moved by more bones than one draw holds. */
export const checkBonesPerDraw: Check = (plan) => {
  const most = plan.profile.limits.bonesPerDraw;
  if (most === null) return [];
  const over = factsOf(plan).parts.filter(({ bones }) => bones > most);
  if (over.length === 0) return [];
  const worst = Math.max(...over.map(({ bones }) => bones));
  const parts = distinct(over.map(({ name }) => name));
  return [
    {
      aspect: 'draw',
      severity: 'blocker',
      sentence: `${listNames(parts)} ${parts.length === 1 ? 'is' : 'are'} moved by up to ${worst} bones in one draw; ${plan.profile.label} holds ${most}.`,
      measured: `${worst} bones`,
      allowed: `at most ${most}`,
      amount: { measured: worst, allowed: most, unit: 'bones' },
      why: 'Bones beyond the table are not moved, and the mesh is torn there.',
      remedy: 'Split the mesh into parts that need fewer bones.',
      parts,
      repair: 'split-parts',
    },
  ];
};
