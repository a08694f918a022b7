import { factsOf, type Check } from '../finding';

/** Skins list parents before their children, as readers that go through once need it. */
export const checkJointOrder: Check = (plan) =>
  factsOf(plan)
    .skins.filter(({ isUnordered }) => isUnordered)
    .map(({ name }) => ({
      aspect: 'order',
      severity: 'note' as const,
      sentence: `The skin ${name} lists a joint before its parent.`,
      measured: 'child before parent',
      allowed: 'parents first',
      why: 'Readers that go through the list once give such a joint a wrong place.',
      remedy: 'Nothing is needed: the tree says which bone hangs on which.',
      parts: [name],
    }));
