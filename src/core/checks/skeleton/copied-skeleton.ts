import { findCopiedBones } from '../../rig/copied-bones';
import { listNames, type Check } from '../finding';

/** Clothing moves with the figure's own bones, not with copies of them. */
export const checkCopiedSkeleton: Check = ({ rig }) => {
  const copies = findCopiedBones(rig).map(({ copy }) => copy);
  if (copies.length === 0) return [];
  return [
    {
      aspect: 'copies',
      severity: 'caution',
      sentence: `${copies.length} bones repeat bones of the figure: ${listNames(
        copies.map((bone) => rig.bones[bone].name),
        3,
      )}.`,
      measured: `${copies.length} copies`,
      allowed: 'none',
      amount: { measured: copies.length, allowed: 0, unit: 'bones' },
      why: 'Clothing that hangs on copies stays behind when the figure moves.',
      remedy: 'Fold them into the bones that they repeat.',
      boneIndices: copies,
      repair: 'fold-copies',
    },
  ];
};
