import { z } from 'zod';
import { ProblemSchema } from '@/core/errors/yarvo-error';

const UnitSchema = z.enum(['%', '°', '°/s']);

/** One line of `yarvo drill --json`: a motion on a character. Lengths are in % of the character's leg. */
export const DrillLineSchema = z.strictObject({
  character: z.string(),
  motion: z.string(),
  frames: z.int().positive(),
  rate: z.number().positive(),
  measures: z.record(
    z.string(),
    z.strictObject({
      min: z.number(),
      max: z.number(),
      unit: UnitSchema,
      /** What is allowed, from and to; null for an open end. */
      limit: z.tuple([z.number().nullable(), z.number().nullable()]),
    }),
  ),
  /** Spans out of what is allowed, worst first. */
  flags: z.array(
    z.strictObject({
      measure: z.string(),
      fromFrame: z.int().nonnegative(),
      toFrame: z.int().nonnegative(),
      worst: z.number(),
      limit: z.number(),
      unit: UnitSchema,
      bones: z.array(z.string()),
      sentence: z.string(),
      cause: z.enum(['source', 'adjustments', 'posture', 'mapping', 'proportions']),
    }),
  ),
  /** What could not be measured, and why. */
  remarks: z.array(z.string()),
});
export type DrillLine = z.infer<typeof DrillLineSchema>;

export const UndrilledSchema = z.strictObject({
  character: z.string(),
  motion: z.string().optional(),
  error: ProblemSchema,
});
export type Undrilled = z.infer<typeof UndrilledSchema>;
