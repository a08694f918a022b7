import { z } from 'zod';
import { FILE_REST } from '../../posture/posture';
import { defineAction } from './action';
import { done } from './outcome';

/** Back to the file's own rest. */
export const resetPosture = defineAction({
  schema: z.strictObject({ kind: z.literal('reset-posture') }),
  label: 'Reset the posture',
  apply: (state) => done(state, { posture: FILE_REST }),
  describe: () => 'posture reset',
});
