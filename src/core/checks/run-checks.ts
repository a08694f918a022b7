import { checkBoneNames } from './bone-names';
import { checkBoneScale } from './bone-scale';
import { checkDoubts } from './doubts';
import { SEVERITIES, type Check, type CheckInput, type Finding } from './finding';
import { checkReferencePose } from './reference-pose';
import { checkRequiredRoles } from './required-roles';
import { checkRootBone } from './root-bone';
import { checkTreeOrder } from './tree-order';
import { checkUnitAndAxes } from './unit-and-axes';

/** Every check, in the order in which equally severe findings are shown. */
const CHECKS: Readonly<Record<string, Check>> = {
  'required-roles': checkRequiredRoles,
  'tree-order': checkTreeOrder,
  'reference-pose': checkReferencePose,
  'bone-scale': checkBoneScale,
  doubts: checkDoubts,
  'root-bone': checkRootBone,
  'unit-and-axes': checkUnitAndAxes,
  'bone-names': checkBoneNames,
};

/** All findings on a fit for one engine target, blockers first. A function of its input alone. */
export function runChecks(input: CheckInput): Finding[] {
  const findings = Object.values(CHECKS).flatMap((check) => check(input));
  return findings
    .map((finding, at) => ({ finding, at }))
    .sort((a, b) => SEVERITIES.indexOf(a.finding.severity) - SEVERITIES.indexOf(b.finding.severity) || a.at - b.at)
    .map(({ finding }) => finding);
}

export const countBlockers = (findings: readonly Finding[]): number =>
  findings.filter((finding) => finding.severity === 'blocker').length;
