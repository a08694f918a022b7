import { openEnds } from '../../plan/open-ends';
import { labelOf, listNames, type Check } from '../finding';

/** Digits, head and toes end in a bone, where the engine reads a segment's length from the next one. */
export const checkEndBones: Check = (plan) => {
  if (!plan.profile.endBones) return [];
  const open = openEnds(plan);
  if (open.length === 0) return [];
  const labels = open.map(({ role }) => labelOf(plan, role).toLowerCase());
  return [
    {
      aspect: 'missing',
      severity: 'caution',
      sentence: `${open.length} lines end without a bone: ${listNames(labels)}.`,
      measured: `${open.length} lines`,
      allowed: 'none',
      amount: { measured: open.length, allowed: 0, unit: 'lines' },
      why: 'The engine takes the length and the direction of the last segment from the bone after it.',
      remedy: 'Add end bones, at the far end of the skin that they carry.',
      boneIndices: open.map(({ bone }) => bone),
      roles: open.map(({ role }) => role),
      repair: 'add-end-bones',
    },
  ];
};
