import { z } from 'zod';
import { IntakeDecisionsSchema, NO_DECISIONS, type IntakeDecisions } from '../intake/decisions';
import type { Match } from '../match/match-types';

const QuatSchema = z.tuple([z.number(), z.number(), z.number(), z.number()]).readonly();
const Vec3Schema = z.tuple([z.number(), z.number(), z.number()]).readonly();

export const AssignmentSchema = z.strictObject({
  boneIndex: z.int().nonnegative(),
  state: z.enum(['settled', 'proposed', 'doubtful']),
  origin: z.enum(['match', 'person']),
});
export type Assignment = z.infer<typeof AssignmentSchema>;

/** All decisions about one character against one definition. What can be computed from them is not kept here. */
export const FitStateSchema = z.strictObject({
  definitionId: z.string(),
  definitionVersion: z.int().positive(),
  /** How the file is to be understood; fits from before these decisions have none. */
  intake: IntakeDecisionsSchema.default(NO_DECISIONS),
  assignments: z.record(z.string(), AssignmentSchema),
  posture: z.strictObject({
    /** Bone index -> absolute local rotation in place of the file's rest. */
    rotations: z.record(z.string(), QuatSchema),
    shift: z.strictObject({ boneIndex: z.int().nonnegative(), offset: Vec3Schema }).nullable(),
  }),
});
export type FitState = z.infer<typeof FitStateSchema>;

/** The fit as the first pass leaves it: nothing settled, the file's own rest as posture. */
export function initialFit(match: Match, definition: { id: string; version: number }, intake: IntakeDecisions = NO_DECISIONS): FitState {
  return {
    definitionId: definition.id,
    definitionVersion: definition.version,
    intake,
    assignments: Object.fromEntries(
      Object.values(match.assignments).map(({ role, boneIndex, state }) => [role, { boneIndex, state, origin: 'match' as const }]),
    ),
    posture: { rotations: {}, shift: null },
  };
}

/** Role -> bone index of a fit. */
export const roleBonesOf = (state: FitState): Map<string, number> =>
  new Map(Object.entries(state.assignments).map(([role, assignment]) => [role, assignment.boneIndex]));

export const countDoubts = (state: FitState): number =>
  Object.values(state.assignments).filter((assignment) => assignment.state === 'doubtful').length;
