import type { RoleDeviation } from '../../posture/measure-posture';
import { labelOf, listNames, type Check, type FindingDraft } from '../finding';

const inDegrees = (rad: number): number => (rad * 180) / Math.PI;
const degrees = (rad: number): string => `${inDegrees(rad).toFixed(1)} degrees`;
const byExcess = (a: RoleDeviation, b: RoleDeviation): number =>
  b.deviationRad - b.toleranceRad - (a.deviationRad - a.toleranceRad);

/** Every segment is within its tolerance of the reference pose: those that are aligned, and the body that carries them. */
export const checkReferencePose: Check = (input) => {
  const { poseDegrees } = input.profile;
  const own = poseDegrees === null ? null : (poseDegrees * Math.PI) / 180;
  const aligned = input.posture.deviations
    .filter(({ alignment }) => alignment !== 'leave')
    .map((deviation) => ({ ...deviation, toleranceRad: own ?? deviation.toleranceRad }))
    .filter(({ deviationRad, toleranceRad }) => deviationRad > toleranceRad);
  const leaning = input.posture.deviations.filter(({ alignment, isWithin }) => alignment === 'leave' && !isWithin);
  const bent = leaning.filter(({ isStopping }) => isStopping);
  const drafts: FindingDraft[] = [];
  const add = (off: readonly RoleDeviation[], draft: (worst: RoleDeviation, count: string) => Stated): void => {
    if (off.length === 0) return;
    const [worst] = [...off].sort(byExcess);
    drafts.push({
      ...draft(worst, off.length === 1 ? '1 segment is' : `${off.length} segments are`),
      measured: degrees(worst.deviationRad),
      allowed: `within ${degrees(worst.toleranceRad)}`,
      amount: { measured: inDegrees(worst.deviationRad), allowed: inDegrees(worst.toleranceRad), unit: 'degrees' },
      why: 'Motion is carried over relative to the reference pose; an error there is in every frame.',
      boneIndices: off.map((deviation) => deviation.boneIndex),
      roles: off.map((deviation) => deviation.role),
    });
  };
  const named = (off: readonly RoleDeviation[]): string =>
    listNames([...off].sort(byExcess).map(({ role, deviationRad }) => `${label(role)} by ${degrees(deviationRad)}`));
  const label = (role: string): string => labelOf(input, role).toLowerCase();
  add(aligned, (worst, count) => ({
    aspect: 'off-pose',
    severity: 'blocker',
    sentence: `${count} off the ${input.definition.pose}-pose; worst: ${label(worst.role)} by ${degrees(worst.deviationRad)}.`,
    remedy: 'On Posture, align all.',
    repair: 'align-posture',
  }));
  add(bent, () => ({
    aspect: 'bent-body',
    severity: 'blocker',
    sentence: `The body is bent or turned: ${named(bent)}.`,
    remedy: 'On Posture, straighten the body, or take another pose.',
    repair: 'straighten-body',
  }));
  const slight = leaning.filter(({ isStopping }) => !isStopping);
  add(slight, () => ({
    aspect: 'leaning',
    severity: 'caution',
    sentence: `The body leans more than ${input.definition.label} allows: ${named(slight)}.`,
    remedy: 'Look at it on Posture; straighten the body if it was not made that way.',
    repair: null,
  }));
  return drafts;
};

type Stated = Pick<FindingDraft, 'aspect' | 'severity' | 'sentence' | 'remedy' | 'repair'>;
