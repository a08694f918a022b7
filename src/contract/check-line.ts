import { z } from 'zod';
import { SEVERITIES } from '@/core/checks/finding';
import { ProblemSchema } from '@/core/errors/yarvo-error';
import { REPAIR_KINDS } from '@/core/repairs/repair-kinds';

const Amount = z.union([z.number(), z.string()]);

const CheckedFindingSchema = z.strictObject({
  key: z.string(),
  check: z.string(),
  severity: z.enum(SEVERITIES),
  sentence: z.string(),
  measured: Amount,
  allowed: Amount,
  unit: z.string(),
  /** Names in the file. */
  bones: z.array(z.string()),
  parts: z.array(z.string()),
  repair: z.enum(REPAIR_KINDS).optional(),
});
export type CheckedFinding = z.infer<typeof CheckedFindingSchema>;

/** One line of `yarvo check --format json`. */
export const CheckLineSchema = z.strictObject({
  file: z.string(),
  /** Id of the engine profile. */
  profile: z.string(),
  /** What is open; after repairs, what is left. */
  findings: z.array(CheckedFindingSchema),
  /** Only where a file of waivers was given: what is accepted, and by whom. */
  waived: z
    .array(z.strictObject({ key: z.string(), reason: z.string(), author: z.string(), until: z.string().nullable() }))
    .optional(),
  /** Only where repairs were asked for: what was made, and the file that was written. */
  repaired: z.strictObject({ repairs: z.array(z.enum(REPAIR_KINDS)), written: z.string() }).optional(),
  error: ProblemSchema.optional(),
});
export type CheckLine = z.infer<typeof CheckLineSchema>;
