import type { Assessment } from '@/core/checks/assessment';
import { runChecks } from '@/core/checks/run-checks';
import { planHandoff, type HandoffPlan, type PlanInput } from '@/core/plan/handoff-plan';

/** Posture and findings of a handoff plan. */
export const judge = (plan: HandoffPlan): Assessment => ({
  measure: plan.posture,
  summary: plan.summary,
  findings: runChecks(plan),
});

/** Posture and findings of a fit as it would be handed off. */
export const assessFit = (input: PlanInput): Assessment => judge(planHandoff(input));
