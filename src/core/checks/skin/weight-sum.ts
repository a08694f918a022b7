import { distinct, factsOf, listNames, type Check } from '../finding';

/** Weights of a vertex add up to 1. */
export const checkWeightSum: Check = (plan) => {
  const slack = plan.profile.limits.weightSum;
  const off = factsOf(plan).parts.filter(({ worstSum }) => Math.abs(worstSum - 1) > slack);
  if (off.length === 0) return [];
  const worst = off.reduce((a, b) => (Math.abs(b.worstSum - 1) > Math.abs(a.worstSum - 1) ? b : a)).worstSum;
  const count = off.reduce((sum, { unnormalised }) => sum + unnormalised, 0);
  const parts = distinct(off.map(({ name }) => name));
  return [
    {
      aspect: 'sum',
      severity: 'caution',
      sentence: `Weights of ${count > 0 ? `${count} vertices` : 'some vertices'} of ${listNames(parts)} add up to something else than 1, at worst ${worst.toFixed(3)}.`,
      measured: worst.toFixed(3),
      allowed: `1 ± ${slack}`,
      amount: { measured: worst, allowed: 1, unit: '' },
      why: 'Such vertices are drawn towards the origin or away from it.',
      remedy: 'Divide the weights of each vertex by their sum.',
      parts,
      repair: 'normalise-weights',
    },
  ];
};
