import { distanceFromOrigin } from '../frame/from-origin';
import { parentsOf, topBoneAbove } from '../rig/bone-tree';
import type { CheckInput, Check, Finding } from './finding';

/** A root above the hips, standing at the floor origin. */
export const checkRootBone: Check = (input) => {
  if (input.profile.rootBone === 'optional') return [];
  const hips = input.fit.assignments.hips?.boneIndex;
  if (hips === undefined) return [];
  const root = topBoneAbove(parentsOf(input.rig), hips);
  if (root === null)
    return [
      finding(
        input,
        [hips],
        'There is no root bone above the hips.',
        'the hips lead the skeleton',
        'a root above the hips',
      ),
    ];
  const away = distanceFromOrigin(input.rig, root, input.normalisation);
  if (away <= input.profile.rootOffsetMetres) return [];
  const name = input.rig.bones[root].name;
  return [
    finding(
      input,
      [root],
      `The top bone ${name} stands ${centimetres(away)} from the floor origin.`,
      centimetres(away),
      `within ${centimetres(input.profile.rootOffsetMetres)}`,
    ),
  ];
};

const centimetres = (metres: number): string => `${(metres * 100).toFixed(1)} cm`;

function finding(
  input: CheckInput,
  boneIndices: number[],
  sentence: string,
  measured: string,
  allowed: string,
): Finding {
  return {
    check: 'root-bone',
    severity: 'caution',
    sentence,
    measured,
    allowed,
    why: 'The engine moves a character by its root; travel in the hips slides the capsule away from the figure.',
    remedy: `Handoff adds ${input.definition.root.exportName} at the floor origin.`,
    boneIndices,
    roles: ['hips'],
  };
}
