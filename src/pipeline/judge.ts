import type { Assessment } from '@/core/checks/assessment';
import { runChecks } from '@/core/checks/run-checks';
import { planHandoff, type HandoffPlan, type PlanInput } from '@/core/plan/handoff-plan';
import { sortWaived } from '@/core/waivers/waiver';

/** Posture and findings of a handoff plan. @param day on which waivers are held against their last one, YYYY-MM-DD. */
export function judge(plan: HandoffPlan, day = today()): Assessment {
  const { open, waived, reopened } = sortWaived(runChecks(plan), plan.fit.waivers, [], day);
  return { measure: plan.posture, summary: plan.summary, findings: open, waived, reopened };
}

/** Posture and findings of a fit as it would be handed off. */
export const assessFit = (input: PlanInput, day = today()): Assessment => judge(planHandoff(input), day);

/** YYYY-MM-DD, in UTC. */
export const today = (now = new Date()): string => now.toISOString().slice(0, 10);
