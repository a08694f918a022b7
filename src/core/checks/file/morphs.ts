import { leastReach, morphReaches } from '../../rig/morph-reach';
import { factsOf, listNames, type Check, type FindingDraft } from '../finding';

/** The morph targets that the engine drives are there, move something, and are not too many. */
export const checkMorphs: Check = (plan) => {
  const { profile, normalisation } = plan;
  const reaches = morphReaches(factsOf(plan));
  const { own: names, mapped } = plan.morphs;
  const found: FindingDraft[] = [];
  const most = profile.limits.morphTargets;
  if (most !== null && names.length > most)
    found.push({
      aspect: 'count',
      severity: 'caution',
      sentence: `The figure has ${names.length} morph targets; ${profile.label} takes ${most}.`,
      measured: `${names.length} targets`,
      allowed: `at most ${most}`,
      amount: { measured: names.length, allowed: most, unit: 'targets' },
      why: 'The engine drops the last ones.',
      remedy: 'Leave out targets that the game does not use in the source file.',
      parts: [...names],
    });
  const least = leastReach(normalisation.heightFile);
  const still = names.filter((name) => (reaches.get(name) ?? 0) <= least);
  if (still.length > 0)
    found.push({
      aspect: 'empty',
      severity: 'caution',
      sentence: `${listNames(still)} ${still.length === 1 ? 'moves' : 'move'} no vertex.`,
      measured: `${still.length} targets`,
      allowed: 'none',
      amount: { measured: still.length, allowed: 0, unit: 'targets' },
      why: 'The face stays still where the game drives them.',
      remedy: 'Drop them, or export them again.',
      parts: still,
      repair: 'drop-empty-morphs',
    });
  const missing = profile.morphs.filter((name) => !mapped.some(({ wanted }) => wanted === name));
  if (missing.length > 0)
    found.push({
      aspect: 'missing',
      severity: 'caution',
      sentence: `${missing.length} of ${profile.morphs.length} morph targets that ${profile.label} drives are missing: ${listNames(missing)}.`,
      measured: `${profile.morphs.length - missing.length} of ${profile.morphs.length}`,
      allowed: `all ${profile.morphs.length}`,
      amount: { measured: profile.morphs.length - missing.length, allowed: profile.morphs.length, unit: 'targets' },
      why: 'These expressions do nothing on this figure.',
      remedy: 'Say below which targets stand for them, ask for them, or drop them from the profile.',
      parts: missing,
    });
  return found;
};
