import { z } from 'zod';
import { defineAction } from './action';
import { done } from './outcome';

/** Back to the file's own rest. */
export const resetPosture = defineAction({
  schema: z.strictObject({ kind: z.literal('reset-posture') }),
  label: 'Reset the posture',
  apply: (state) => done(state, { posture: { rotations: {}, shift: null } }),
  describe: () => 'posture reset',
});
