import { z } from 'zod';
import { initialFit } from '../fit';
import { defineAction } from './action';
import { done } from './outcome';

/** Back to what the first pass proposed. */
export const rematch = defineAction({
  schema: z.strictObject({ kind: z.literal('rematch') }),
  label: 'Back to the first pass',
  apply: (state, _, { match, definition }) => done(state, { assignments: initialFit(match, definition).assignments }),
  describe: () => 'back to the first pass',
});
