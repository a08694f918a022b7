import { checkBoneNames } from './bone-names';
import { checkBoneScale } from './bone-scale';
import { checkDoubts } from './doubts';
import type { HandoffPlan } from '../plan/handoff-plan';
import { SEVERITIES, type Check, type Finding, type FindingDraft } from './finding';
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

/** All findings on a handoff plan, blockers first. A function of the plan alone. */
export function runChecks(plan: HandoffPlan): Finding[] {
  const findings = Object.entries(CHECKS).flatMap(([name, check]) =>
    check(plan).map((draft) => asFinding(name, draft, plan)),
  );
  return findings
    .map((finding, at) => ({ finding, at }))
    .sort((a, b) => SEVERITIES.indexOf(a.finding.severity) - SEVERITIES.indexOf(b.finding.severity) || a.at - b.at)
    .map(({ finding }) => finding);
}

/** Subjects are the roles, else the bones by their own names: indices shift when a file is read anew. */
function asFinding(check: string, { aspect, ...draft }: FindingDraft, { rig }: HandoffPlan): Finding {
  const subjects = draft.roles.length > 0 ? draft.roles : draft.boneIndices.map((bone) => rig.bones[bone].name);
  return { key: `${check}/${aspect} ${[...subjects].sort().join(' ')}`.trim(), check, ...draft };
}

export const countBlockers = (findings: readonly Pick<Finding, 'severity'>[]): number =>
  findings.filter((finding) => finding.severity === 'blocker').length;
