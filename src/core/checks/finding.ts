import { z } from 'zod';
import type { Definition } from '../definition/definition';
import type { FitState } from '../fit/fit';
import type { Match } from '../match/context/match-types';
import type { Normalisation } from '../frame/normalise';
import type { PostureMeasure } from '../posture/measure-posture';
import type { EngineProfile } from '../profile/profile';
import type { Rig } from '../rig/rig';

export const SEVERITIES = ['blocker', 'caution', 'note'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** One result of a check: a sentence, what was measured against what is allowed, and which bones it is about. */
export const FindingSchema = z.strictObject({
  check: z.string(),
  severity: z.enum(SEVERITIES),
  sentence: z.string(),
  measured: z.string(),
  allowed: z.string(),
  /** Why it matters, in one sentence. */
  why: z.string(),
  /** What to do about it. */
  remedy: z.string(),
  boneIndices: z.array(z.int().nonnegative()),
  roles: z.array(z.string()),
});
export type Finding = z.infer<typeof FindingSchema>;

/** All that a check may look at. Findings are a function of this and nothing else. */
export interface CheckInput {
  readonly rig: Rig;
  readonly match: Match;
  readonly fit: FitState;
  readonly definition: Definition;
  readonly normalisation: Normalisation;
  readonly posture: PostureMeasure;
  readonly profile: EngineProfile;
}

export type Check = (input: CheckInput) => Finding[];

export const labelOf = (input: CheckInput, role: string): string =>
  input.definition.roles.find((candidate) => candidate.id === role)?.label ?? role;

/** "a, b, c and 4 more". */
export function listNames(names: readonly string[], most = 4): string {
  if (names.length <= most)
    return names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names[names.length - 1]}` : (names[0] ?? '');
  return `${names.slice(0, most).join(', ')} and ${names.length - most} more`;
}
