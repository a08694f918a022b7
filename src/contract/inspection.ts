import { z } from 'zod';
import { FindingSchema } from '@/core/checks/finding';
import { ProblemSchema } from '@/core/errors/yarvo-error';
import { SPARE_KINDS } from '@/core/match/context/match-types';

const Candidate = z.strictObject({
  bone: z.string(),
  boneIndex: z.int().nonnegative(),
  confidence: z.number().min(0).max(1),
});

/** One line of `yarvo inspect --json`. `bone` is the file's own name, `boneIndex` the node's index in the file. */
export const InspectionSchema = z.strictObject({
  file: z.string(),
  kind: z.enum(['character', 'skeleton', 'mesh', 'motion']),
  humanoid: z.strictObject({ verdict: z.boolean(), reasons: z.array(z.string()) }),
  source: z.strictObject({
    format: z.string(),
    /** Metres per file unit, as measured on the body. */
    unit: z.number().positive(),
    up: z.string(),
    facing: z.string(),
    bones: z.int().nonnegative(),
  }),
  lines: z.array(
    z.strictObject({
      line: z.string(),
      bones: z.array(z.string()),
      anchors: z.record(z.string(), z.int().nonnegative()),
    }),
  ),
  assignments: z.record(
    z.string(),
    Candidate.extend({
      state: z.enum(['proposed', 'doubtful']),
      evidence: z.array(z.string()),
      runnersUp: z.array(Candidate),
    }),
  ),
  spares: z.array(z.strictObject({ bone: z.string(), boneIndex: z.int().nonnegative(), kind: z.enum(SPARE_KINDS) })),
  posture: z.strictObject({
    class: z.enum(['T', 'A', 'other']),
    deviationsDeg: z.record(z.string(), z.number()),
    rollsDeg: z.record(z.string(), z.number()),
  }),
  findings: z.array(FindingSchema.omit({ key: true, amount: true, parts: true, repair: true })),
  ms: z.strictObject({ read: z.number().nonnegative(), match: z.number().nonnegative() }),
});
export type Inspection = z.infer<typeof InspectionSchema>;

/** The line of a file that could not be read. */
export const UnreadableSchema = z.strictObject({ file: z.string(), error: ProblemSchema });
export type Unreadable = z.infer<typeof UnreadableSchema>;
