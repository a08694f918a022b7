import type { Check } from '../finding';

/** Bind and rest further apart than this are two poses: degrees, and share of the figure's height. */
const APART_DEGREES = 1;
const APART_SHARE = 0.01;

/** The pose that the engine reads is the one that was worked on. */
export const checkPosesDiffer: Check = ({ rig, normalisation, fit }) => {
  if (fit.intake.pose.kind !== 'rest') return [];
  const bind = rig.poses.find(({ pose }) => pose === 'bind');
  if (!bind || bind.boneCount === 0) return [];
  const share = normalisation.heightFile > 0 ? bind.maxDistance / normalisation.heightFile : 0;
  if (bind.maxDegrees <= APART_DEGREES && share <= APART_SHARE) return [];
  const name = rig.bones[bind.worstBone]?.name ?? 'a bone';
  return [
    {
      aspect: 'bind',
      severity: 'note',
      sentence: `Rest and bind pose differ at ${bind.boneCount} bones, most at ${name}: ${bind.maxDegrees.toFixed(1)} degrees.`,
      measured: `${bind.maxDegrees.toFixed(1)} degrees`,
      allowed: `within ${APART_DEGREES} degree`,
      amount: { measured: bind.maxDegrees, allowed: APART_DEGREES, unit: 'degrees' },
      why: 'A left-over pose at rest is taken for the reference pose.',
      remedy: 'Choose on Intake which of them counts. Handoff binds the mesh anew in the posture.',
      boneIndices: bind.worstBone >= 0 ? [bind.worstBone] : [],
    },
  ];
};
