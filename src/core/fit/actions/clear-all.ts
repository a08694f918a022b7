import { z } from 'zod';
import { defineAction } from './action';
import { clearWhere } from './outcome';

/** Takes the bones from all roles. */
export const clearAll = defineAction({
  schema: z.strictObject({ kind: z.literal('clear-all') }),
  label: 'Clear all roles',
  apply: (state) => clearWhere(state, () => true),
  describe: () => 'all roles cleared',
});
