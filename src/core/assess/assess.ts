import { runChecks } from '../checks/run-checks';
import type { Finding } from '../checks/finding';
import type { Definition } from '../definition/definition';
import { roleBonesOf, type FitState } from '../fit/fit';
import { matchBones, type MatchOptions } from '../match/match-bones';
import type { Match } from '../match/match-types';
import {
  axisVector,
  computeNormalisation,
  type Normalisation,
  type NormalisationOverrides,
} from '../normalise/normalise';
import { classifyPosture, type PostureSummary } from '../posture/classify-posture';
import { measurePosture, type PostureMeasure } from '../posture/measure-posture';
import type { EngineProfile } from '../profile/profile';
import { computeWorlds } from '../rig/pose';
import type { Rig } from '../rig/rig';

/** What the first look at a rig yields; kept with the character. */
export interface FirstPass {
  readonly match: Match;
  readonly normalisation: Normalisation;
}

/** @param overrides unit and axes where a person set them. */
export function runFirstPass(
  rig: Rig,
  definition: Definition,
  options: MatchOptions = {},
  overrides?: NormalisationOverrides,
): FirstPass {
  const facing = overrides?.facing ? axisVector(overrides.facing) : undefined;
  const match = matchBones(rig, definition, facing ? { ...options, facing } : options);
  return { match, normalisation: computeNormalisation(rig, match.frame, overrides, match.creature.isHumanoid) };
}

/** Raised whenever checks or measures may give other findings for the same fit; kept counts are derived again then. */
export const ASSESSMENT_VERSION = 2;

export interface Assessment {
  readonly measure: PostureMeasure;
  readonly summary: PostureSummary;
  readonly findings: readonly Finding[];
}

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
