import { UNLIKE_RAD, unevenRolls } from '../../posture/uneven-rolls';
import { labelOf, listNames, type Check } from '../finding';

const inDegrees = (rad: number): number => (rad * 180) / Math.PI;
const degrees = (rad: number): string => `${Math.abs(inDegrees(rad)).toFixed(1)} degrees`;

/** Both sides of a limb are turned about themselves alike. */
export const checkUnevenRolls: Check = (plan) => {
  const uneven = unevenRolls(plan.posture, plan.definition);
  if (uneven.length === 0) return [];
  const text = ({ left, leftRad, rightRad }: (typeof uneven)[number]): string =>
    `${labelOf(plan, left).toLowerCase()} by ${degrees(leftRad)}, the right one by ${degrees(rightRad)}`;
  const [worst] = uneven;
  const roles = uneven.flatMap(({ left, right }) => [left, right]);
  return [
    {
      aspect: 'unlike',
      severity: 'caution',
      sentence: `Left and right are rolled differently: ${listNames(uneven.map(text), 2)}.`,
      measured: degrees(worst.differRad),
      allowed: `within ${degrees(UNLIKE_RAD)}`,
      amount: { measured: inDegrees(worst.differRad), allowed: inDegrees(UNLIKE_RAD), unit: 'degrees' },
      why: 'A motion turns both about the same axis: one hand or foot comes out twisted against the other.',
      remedy: "On Posture, align with the roll on the definition's hinges, or mirror the better side.",
      roles,
      boneIndices: roles.flatMap((role) => plan.fit.assignments[role]?.boneIndex ?? []),
    },
  ];
};
