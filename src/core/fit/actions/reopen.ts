import { z } from 'zod';
import { defineAction } from './action';
import { done, nothing } from './outcome';

/** The one action that a closed fit takes. */
export const reopen = defineAction({
  schema: z.strictObject({ kind: z.literal('reopen'), reason: z.string().trim().min(3).max(200) }),
  label: 'Reopen the fit',
  apply: (state) => (state.isClosed ? done(state, { isClosed: false }) : nothing('The fit is open.')),
  describe: ({ reason }) => `fit reopened: ${reason}`,
});
