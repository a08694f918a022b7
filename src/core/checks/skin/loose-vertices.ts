import { countText } from '../../text/count';
import { distinct, factsOf, listNames, type Check } from '../finding';

/** Every vertex of a skinned mesh is moved by a bone. */
export const checkLooseVertices: Check = (plan) => {
  const loose = factsOf(plan).parts.filter(({ skin, unweighted }) => skin >= 0 && unweighted > 0);
  if (loose.length === 0) return [];
  const count = loose.reduce((sum, { unweighted }) => sum + unweighted, 0);
  const parts = distinct(loose.map(({ name }) => name));
  return [
    {
      aspect: 'unweighted',
      severity: 'blocker',
      sentence: `${countText(count, 'vertex').replace('vertexs', 'vertices')} of ${listNames(parts)} ${count === 1 ? 'has' : 'have'} no weight.`,
      measured: `${count} vertices`,
      allowed: 'none',
      amount: { measured: count, allowed: 0, unit: 'vertices' },
      why: 'They stay behind, or fall to the origin, as soon as the figure moves.',
      remedy: 'Give them the weights of the nearest vertex that has some.',
      parts,
      repair: 'bind-loose-vertices',
    },
  ];
};
