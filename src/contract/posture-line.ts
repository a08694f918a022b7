import { z } from 'zod';
import { ProblemSchema } from '@/core/errors/yarvo-error';
import { InspectionSchema } from './inspection';

/** A figure's posture in numbers. Heights are above the origin of the handed-off space. */
const PostureFiguresSchema = z.strictObject({
  class: z.enum(['T', 'A', 'other']),
  deviationsDeg: z.record(z.string(), z.number()),
  rollsDeg: z.record(z.string(), z.number()),
  /** Lowest point of each sole; null for a side without a foot. */
  soles: z.strictObject({ leftCm: z.number().nullable(), rightCm: z.number().nullable() }),
  heightM: z.number(),
});
export type PostureFigures = z.infer<typeof PostureFiguresSchema>;

/** One line of `yarvo posture --json`. */
export const PostureLineSchema = z.strictObject({
  file: z.string(),
  /** The rebuilt GLB; null where none was asked for. */
  out: z.string().nullable(),
  assignments: InspectionSchema.shape.assignments,
  before: PostureFiguresSchema,
  after: PostureFiguresSchema,
});
export type PostureLine = z.infer<typeof PostureLineSchema>;

/** The line of a file that could not be read, or whose pose is not in it. */
export const UnposedSchema = z.strictObject({ file: z.string(), error: ProblemSchema });
export type Unposed = z.infer<typeof UnposedSchema>;
