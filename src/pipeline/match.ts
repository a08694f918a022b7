import type { Definition } from '@/core/definition/definition';
import { axisVector, computeNormalisation, type NormalisationOverrides } from '@/core/frame/normalise';
import { matchBones, type MatchOptions } from '@/core/match/match-bones';
import type { FirstPass } from '@/core/match/first-pass';
import type { Rig } from '@/core/rig/rig';

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
