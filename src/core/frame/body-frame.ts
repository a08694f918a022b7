import { z } from 'zod';

const Vec3Schema = z.tuple([z.number(), z.number(), z.number()]).readonly();

/** Axes of the body in file space, unit length. */
export const BodyFrameSchema = z.strictObject({
  up: Vec3Schema,
  facing: Vec3Schema,
  left: Vec3Schema,
  confidence: z.number().min(0).max(1),
  namesAreSwapped: z.boolean(),
  reasons: z.array(z.string()),
});
export type BodyFrame = z.infer<typeof BodyFrameSchema>;
