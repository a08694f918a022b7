import { runChecks } from '@/core/checks/run-checks';
import type { Assessment } from '@/core/checks/assessment';
import type { Definition } from '@/core/definition/definition';
import { roleBonesOf, type FitState } from '@/core/fit/fit';
import type { FirstPass } from '@/core/match/first-pass';
import { classifyPosture } from '@/core/posture/classify-posture';
import { measurePosture } from '@/core/posture/measure-posture';
import type { EngineProfile } from '@/core/profile/profile';
import { computeWorlds } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';

export interface AssessInput extends FirstPass {
  readonly rig: Rig;
  readonly fit: FitState;
  readonly definition: Definition;
  readonly profile: EngineProfile;
}

/** Posture and findings of a fit as it stands. */
export function assessFit(input: AssessInput): Assessment {
  const worlds = computeWorlds(input.rig, input.fit.posture);
  const measure = measurePosture({ ...input, roleBones: roleBonesOf(input.fit), worlds });
  return { measure, summary: classifyPosture(measure.frames), findings: runChecks({ ...input, posture: measure }) };
}
