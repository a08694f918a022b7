import { z } from 'zod';

/** What is chosen for the handoff of a fit, beside the fit's mapping and posture. */
export const HandoffOptionsSchema = z.strictObject({
  /** Whether a root bone is put above a skeleton that has none where one is wanted. */
  addsRoot: z.boolean(),
  /** Whether the helpers and attachment points of the profile are added. */
  addsHelpers: z.boolean(),
  /** Whether uneven and negative scales of bones are applied to mesh and joints. */
  appliesScale: z.boolean().default(false),
  /** Whether joints are turned to the bone axes of the profile. */
  reorients: z.boolean(),
});
export type HandoffOptions = z.infer<typeof HandoffOptionsSchema>;

export const USUAL_OPTIONS: HandoffOptions = {
  addsRoot: true,
  addsHelpers: true,
  appliesScale: false,
  reorients: false,
};
