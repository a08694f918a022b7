import { z } from 'zod';
import { FitStateSchema } from '../fit';
import { defineAction } from './action';
import { done, nothing } from './outcome';

/** Which motions go into the pack. */
export const setPackMotions = defineAction({
  schema: z.strictObject({
    kind: z.literal('set-pack-motions'),
    motions: FitStateSchema.shape.packMotions.unwrap(),
  }),
  label: 'Motions of the pack',
  apply: (state, { motions }) => {
    const packMotions = [...new Set(motions)];
    if (packMotions.join('\n') === state.packMotions.join('\n')) return nothing('Already set.');
    return done(state, { packMotions });
  },
  describe: ({ motions }) =>
    motions.length === 0 ? 'no motions in the pack' : `motions in the pack: ${motions.length}`,
});
