import { countText } from '../../text/count';
import { distinct, factsOf, listNames, type Check } from '../finding';

/** No vertex is moved by more bones than the engine adds up. */
export const checkInfluences: Check = (plan) => {
  const most = plan.profile.limits.influences;
  if (most === null) return [];
  const over = factsOf(plan).parts.filter(({ influences }) => influences > most);
  if (over.length === 0) return [];
  const worst = Math.max(...over.map(({ influences }) => influences));
  const parts = distinct(over.map(({ name }) => name));
  return [
    {
      aspect: 'vertex',
      severity: 'blocker',
      sentence: `Vertices of ${listNames(parts)} are moved by up to ${worst} bones; ${plan.profile.label} adds up ${most}.`,
      measured: countText(worst, 'bone'),
      allowed: `at most ${most}`,
      amount: { measured: worst, allowed: most, unit: 'bones' },
      why: 'The engine drops the rest without asking, and the sum is no longer 1.',
      remedy: 'Keep the strongest of each vertex and share out the rest.',
      parts,
      repair: 'reduce-influences',
    },
  ];
};
