import { z } from 'zod';

/** What is chosen for the handoff of a fit, beside the fit's mapping and posture. */
export const HandoffOptionsSchema = z.strictObject({
  /** Whether a root bone is put above a skeleton that has none where one is wanted. */
  addsRoot: z.boolean(),
  /** Whether the helpers and attachment points of the profile are added. */
  addsHelpers: z.boolean(),
  /** Whether joints are turned to the bone axes of the profile. */
  reorients: z.boolean(),
  /** How the character is written onto the skeleton that the profile ships; null: it is not. */
  conform: z
    .strictObject({
      /** The character's own bone lengths, or those of the skeleton, the mesh following. */
      lengths: z.enum(['own', 'skeleton']),
    })
    .nullable()
    .default(null),
});
/** As older fits keep them: scales were applied at handoff, before they were where the file is read. */
export const KeptHandoffSchema = z.preprocess((kept) => {
  const { appliesScale: _old, ...options } = (kept ?? USUAL_OPTIONS) as { appliesScale?: unknown };
  return options;
}, HandoffOptionsSchema);
export type HandoffOptions = z.infer<typeof HandoffOptionsSchema>;

export const USUAL_OPTIONS: HandoffOptions = {
  addsRoot: true,
  addsHelpers: true,
  reorients: false,
  conform: null,
};
