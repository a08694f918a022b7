import { z } from 'zod';

/** What every change of a fit says. */
export const BaseSchema = z.strictObject({
  /** Revision the sender has seen. */
  baseRevision: z.int().nonnegative(),
  /** Definition of the fit that is meant; the studio's own by default. */
  definitionId: z.string().max(80).optional(),
  /** Names the change: sent again after an answer got lost, it is recognised and not made twice. */
  changeId: z.uuid().optional(),
});
