import { distanceFromOrigin } from '../../frame/from-origin';
import { rootAboveHips } from '../../fit/fit';
import { addsRoot, type HandoffPlan } from '../../plan/handoff-plan';
import type { Check, FindingDraft } from '../finding';

/** A root above the hips, standing at the floor origin. */
export const checkRootBone: Check = (input) => {
  if (input.profile.rootBone === 'optional') return [];
  const hips = input.fit.assignments.hips?.boneIndex;
  if (hips === undefined) return [];
  const root = rootAboveHips(input.rig, input.fit);
  if (input.profile.rootBone === 'forbidden') return root === null ? [] : [forbidden(input, root)];
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

function forbidden({ rig, profile }: HandoffPlan, root: number): FindingDraft {
  const { name } = rig.bones[root];
  return {
    aspect: 'forbidden',
    severity: 'blocker',
    sentence: `${name} stands above the hips; ${profile.label} takes the hips for the top bone.`,
    measured: name,
    allowed: 'no bone above the hips',
    why: 'The engine moves the first bone, and takes this one for the hips.',
    remedy: 'Leave it out on Intake, or merge it on Match.',
    boneIndices: [root],
  };
}

const centimetres = (metres: number): string => `${(metres * 100).toFixed(1)} cm`;

function finding(
  input: HandoffPlan,
  boneIndices: number[],
  sentence: string,
  measured: string,
  allowed: string,
): FindingDraft {
  const isAdded = addsRoot(input);
  return {
    aspect: 'above-hips',
    severity: 'caution',
    sentence,
    measured,
    allowed,
    why: 'The engine moves a character by its root; travel in the hips slides the capsule away from the figure.',
    remedy: isAdded
      ? `Handoff adds ${input.names.rootName} at the floor origin.`
      : 'Handoff is set to add none; put one above the hips in the source file, or let handoff add it.',
    boneIndices,
    roles: ['hips'],
    repair: isAdded ? null : 'add-root',
  };
}
