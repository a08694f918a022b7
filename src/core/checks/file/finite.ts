import { distinct, factsOf, listNames, type Check } from '../finding';

/** Every vertex has a place. */
export const checkFinite: Check = (plan) => {
  const broken = factsOf(plan).parts.filter(({ infinite }) => infinite > 0);
  if (broken.length === 0) return [];
  const count = broken.reduce((sum, { infinite }) => sum + infinite, 0);
  const parts = distinct(broken.map(({ name }) => name));
  return [
    {
      aspect: 'vertices',
      severity: 'blocker',
      sentence: `${count === 1 ? 'A vertex' : `${count} vertices`} of ${listNames(parts)} ${count === 1 ? 'has' : 'have'} a place that is no finite number.`,
      measured: `${count} vertices`,
      allowed: 'none',
      amount: { measured: count, allowed: 0, unit: 'vertices' },
      why: 'One such vertex makes bounds infinite: the figure is never drawn, or always.',
      remedy: 'Drop the triangles that use them.',
      parts,
      repair: 'drop-vertices',
    },
  ];
};
