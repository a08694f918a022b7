import { labelOf, type Check } from '../finding';

const inDegrees = (rad: number): number => (rad * 180) / Math.PI;
const degrees = (rad: number): string => `${inDegrees(rad).toFixed(1)} degrees`;

/** Segments that the definition aligns are within their tolerance of the reference pose. */
export const checkReferencePose: Check = (input) => {
  const { poseDegrees } = input.profile;
  const own = poseDegrees === null ? null : (poseDegrees * Math.PI) / 180;
  const outside = input.posture.deviations
    .map((deviation) => ({ ...deviation, toleranceRad: own ?? deviation.toleranceRad }))
    .filter(({ alignment, deviationRad, toleranceRad }) => alignment !== 'leave' && deviationRad > toleranceRad)
    .sort((a, b) => b.deviationRad - b.toleranceRad - (a.deviationRad - a.toleranceRad));
  if (outside.length === 0) return [];
  const worst = outside[0];
  return [
    {
      aspect: 'off-pose',
      severity: 'blocker',
      sentence: `${outside.length} ${outside.length === 1 ? 'segment is' : 'segments are'} off the ${input.definition.pose}-pose; worst: ${labelOf(input, worst.role).toLowerCase()} by ${degrees(worst.deviationRad)}.`,
      measured: degrees(worst.deviationRad),
      allowed: `within ${degrees(worst.toleranceRad)}`,
      amount: { measured: inDegrees(worst.deviationRad), allowed: inDegrees(worst.toleranceRad), unit: 'degrees' },
      why: 'Motion is carried over relative to the reference pose; an error there is in every frame.',
      remedy: 'On Posture, align all.',
      boneIndices: outside.map((deviation) => deviation.boneIndex),
      roles: outside.map((deviation) => deviation.role),
      repair: 'align-posture',
    },
  ];
};
