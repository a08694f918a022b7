import { axisDeviations } from '../../plan/bone-axes';
import { labelOf, type Check } from '../finding';

/** Bones whose axes are further off than this are told, degrees. */
const SLACK_DEGREES = 5;

/** Bone axes as the profile states them: one along the bone, one through the hinge. */
export const checkBoneAxes: Check = (plan) => {
  const { axes } = plan.profile;
  if (!axes || 'problem' in plan.skeleton) return [];
  const off = axisDeviations(plan, plan.skeleton.plan.worlds, axes).filter(({ degrees }) => degrees > SLACK_DEGREES);
  if (off.length === 0) return [];
  const worst = off.reduce((a, b) => (b.degrees > a.degrees ? b : a));
  return [
    {
      aspect: 'axes',
      severity: 'blocker',
      sentence: `${off.length} joints have other axes than ${axes.along} along the bone and ${axes.hinge} through the hinge; furthest off is ${labelOf(plan, worst.role).toLowerCase()}, by ${worst.degrees.toFixed(0)} degrees.`,
      measured: `${worst.degrees.toFixed(0)} degrees`,
      allowed: `within ${SLACK_DEGREES} degrees`,
      amount: { measured: worst.degrees, allowed: SLACK_DEGREES, unit: 'degrees' },
      why: 'Clips and constraints of the engine turn bones about their own axes; on other axes they turn elsewhere.',
      remedy: plan.options.conform
        ? 'The shipped skeleton has these axes: mend the profile, which states others.'
        : 'Let handoff turn the joints to these axes; the mesh stays where it is.',
      boneIndices: off.map(({ bone }) => bone),
      roles: off.map(({ role }) => role),
      repair: plan.options.conform ? null : 're-orient',
    },
  ];
};
