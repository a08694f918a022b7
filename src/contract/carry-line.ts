import { z } from 'zod';
import { ProblemSchema } from '@/core/errors/yarvo-error';
import { InspectionSchema } from './inspection';

const FitSchema = z.strictObject({
  assignments: InspectionSchema.shape.assignments,
  /** The reference pose that the motion is told against. */
  posture: InspectionSchema.shape.posture,
});

/** One line of `yarvo carry --json`: a clip on a character. */
export const CarryLineSchema = FitSchema.extend({
  motion: z.string(),
  clip: z.string(),
  character: z.string(),
  frames: z.int().positive(),
  /** Frames a second. */
  rate: z.number().positive(),
  /** Null for a motion file, which has no skeleton. */
  source: FitSchema.nullable(),
  out: z.strictObject({ glb: z.string(), bvh: z.string() }),
});
export type CarryLine = z.infer<typeof CarryLineSchema>;

/** The line of a clip or a character that could not be carried; `clip` and `character` as far as they are known. */
export const UncarriedSchema = z.strictObject({
  motion: z.string(),
  clip: z.string().optional(),
  character: z.string().optional(),
  error: ProblemSchema,
});
export type Uncarried = z.infer<typeof UncarriedSchema>;
