import { z } from 'zod';

/** What a newer reader or matcher would change in one role; bones by their own names. */
const RoleChangeSchema = z.strictObject({
  role: z.string(),
  /** The role as people read it. */
  label: z.string(),
  from: z.string().nullable(),
  to: z.string().nullable(),
  kind: z.enum(['proposed', 'doubt', 'lost']),
});

/** A fit that waits for a person to accept what a newer reader or matcher changes. */
export const RenewalViewSchema = z.strictObject({
  characterId: z.uuid(),
  name: z.string(),
  definitionId: z.string(),
  changes: z.array(RoleChangeSchema),
});
export type RenewalView = z.infer<typeof RenewalViewSchema>;
