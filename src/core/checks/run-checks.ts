import type { HandoffPlan } from '../plan/handoff-plan';
import { CHECKS } from './checks';
import { SEVERITIES, type Finding, type FindingDraft } from './finding';

/** All findings on a handoff plan, blockers first. A function of the plan alone. */
export function runChecks(plan: HandoffPlan): Finding[] {
  const findings = Object.entries(CHECKS).flatMap(([name, check]) => {
    const severity = plan.profile.severities[name];
    if (severity === 'off') return [];
    return check(plan).map((draft) => asFinding(name, severity ? { ...draft, severity } : draft, plan));
  });
  return findings
    .map((finding, at) => ({ finding, at }))
    .sort((a, b) => SEVERITIES.indexOf(a.finding.severity) - SEVERITIES.indexOf(b.finding.severity) || a.at - b.at)
    .map(({ finding }) => finding);
}

/** Subjects are the roles, else the bones by their own names, and parts: indices shift when a file is read anew. */
function asFinding(check: string, { aspect, ...draft }: FindingDraft, { rig }: HandoffPlan): Finding {
  const { roles = [], boneIndices = [], parts = [] } = draft;
  const subjects = [...(roles.length > 0 ? roles : boneIndices.map((bone) => rig.bones[bone].name)), ...parts];
  const key = `${check}/${aspect} ${[...subjects].sort().join(' ')}`.trim();
  return { amount: null, repair: null, moment: null, key, check, ...draft, roles, boneIndices, parts };
}

export const countBlockers = (findings: readonly Pick<Finding, 'severity'>[]): number =>
  findings.filter((finding) => finding.severity === 'blocker').length;
