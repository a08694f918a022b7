import { z } from 'zod';
import { ProblemSchema } from '@/core/errors/yarvo-error';
import { GaitSettingsSchema } from '@/core/house/gait-settings';
import { MotionHeadSchema } from '@/core/motion/motion';

/** One line of `yarvo motion list --json`. */
export const HouseListingSchema = z.strictObject({
  name: z.string(),
  label: z.string(),
  note: z.string(),
  seconds: z.number().positive(),
  loops: z.boolean(),
  /** What --set can change, as it is by default; null where nothing can. */
  settings: GaitSettingsSchema.nullable(),
});
export type HouseListing = z.infer<typeof HouseListingSchema>;

/** The line of `yarvo motion make --json`. */
export const HouseLineSchema = z.strictObject({
  name: z.string(),
  frames: z.int().positive(),
  rate: z.number().positive(),
  loops: z.boolean(),
  settings: GaitSettingsSchema.nullable(),
  /** What could not be made as it was asked for, and what was made instead. */
  remarks: z.array(z.string()),
  contacts: MotionHeadSchema.shape.contacts,
  out: z.strictObject({ motion: z.string(), glb: z.string(), bvh: z.string() }),
});
export type HouseLine = z.infer<typeof HouseLineSchema>;

export const UnmadeSchema = z.strictObject({ name: z.string(), error: ProblemSchema });
export type Unmade = z.infer<typeof UnmadeSchema>;
