import { z } from 'zod';
import { defineAction } from './action';
import { done } from './outcome';

/** Only a fit without doubts, and with a bone for every required role, is finished. */
export const close = defineAction({
  schema: z.strictObject({ kind: z.literal('close') }),
  label: 'Close the fit',
  apply: (state, _, { definition }) => {
    const missing = definition.roles.filter(({ id, required }) => required && !state.assignments[id]);
    const doubtful = definition.roles.filter(({ id }) => state.assignments[id]?.state === 'doubtful');
    const open = [
      ...missing.map(({ label }) => `${label} has no bone`),
      ...doubtful.map(({ label }) => `${label} is doubtful`),
    ];
    if (open.length === 0) return done(state, { isClosed: true });
    const named = `${open.slice(0, 4).join(', ')}${open.length > 4 ? ` and ${open.length - 4} more` : ''}`;
    return { ok: false, code: 'not-finished', message: `The fit is not finished: ${named}.` };
  },
  describe: () => 'fit closed',
});
