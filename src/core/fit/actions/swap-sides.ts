import { z } from 'zod';
import { mirrorRole } from '../../definition/definition';
import { defineAction } from './action';
import { done } from './outcome';

/** Left becomes right throughout: for rigs whose sides were told wrongly. */
export const swapSides = defineAction({
  schema: z.strictObject({ kind: z.literal('swap-sides') }),
  label: 'Exchange left and right',
  apply: (state, _, { definition }) =>
    done(state, {
      assignments: Object.fromEntries(
        Object.entries(state.assignments).map(([role, assignment]) => [mirrorRole(definition, role), assignment]),
      ),
    }),
  describe: () => 'left and right exchanged',
});
