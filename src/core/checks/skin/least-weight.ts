import { distinct, factsOf, listNames, type Check } from '../finding';

/** No weight is so small that the engine rounds it away. */
export const checkLeastWeight: Check = (plan) => {
  const least = plan.profile.limits.leastWeight;
  const small = factsOf(plan).parts.filter(({ leastWeight }) => leastWeight > 0 && leastWeight < least);
  if (small.length === 0) return [];
  const worst = Math.min(...small.map(({ leastWeight }) => leastWeight));
  const parts = distinct(small.map(({ name }) => name));
  return [
    {
      aspect: 'small',
      severity: 'note',
      sentence: `${listNames(parts)} ${parts.length === 1 ? 'has' : 'have'} weights down to ${worst.toPrecision(2)}; ${plan.profile.label} rounds below ${least}.`,
      measured: worst.toPrecision(2),
      allowed: `at least ${least}`,
      amount: { measured: worst, allowed: least, unit: '' },
      why: 'They cost a place among the influences and move nothing that is seen.',
      remedy: 'Prune them and share out what they held.',
      parts,
      repair: 'prune-weights',
    },
  ];
};
