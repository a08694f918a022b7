import { z } from 'zod';
import { defineAction } from './action';
import { done, nothing } from './outcome';

/** Where the written file has its origin: where the source has it, or on the floor under the figure. */
export const setOrigin = defineAction({
  schema: z.strictObject({ kind: z.literal('set-origin'), origin: z.enum(['file', 'floor']) }),
  label: 'Origin at handoff',
  apply: (state, { origin }) => (origin === state.origin ? nothing('Already set.') : done(state, { origin })),
  describe: ({ origin }) =>
    origin === 'floor' ? 'the figure is put on the floor at handoff' : 'the origin stays where the file has it',
});
