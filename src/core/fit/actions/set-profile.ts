import { z } from 'zod';
import { defineAction } from './action';
import { done, nothing } from './outcome';

/** The engine profile that the character is judged by and handed off for; null for the studio's own. */
export const setProfile = defineAction({
  schema: z.strictObject({ kind: z.literal('set-profile'), profile: z.string().min(1).max(40).nullable() }),
  label: 'Engine profile',
  apply: (state, { profile }) => (profile === state.profile ? nothing('Already set.') : done(state, { profile })),
  describe: ({ profile }) => (profile === null ? "checked for the studio's own engine" : `checked for ${profile}`),
});
