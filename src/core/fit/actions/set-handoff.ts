import { z } from 'zod';
import { HandoffOptionsSchema } from '../handoff-options';
import { defineAction } from './action';
import { done, nothing } from './outcome';

/** What handoff adds and turns. */
export const setHandoff = defineAction({
  schema: z.strictObject({ kind: z.literal('set-handoff'), change: HandoffOptionsSchema.partial() }),
  label: 'What handoff adds and turns',
  apply: (state, { change }) => {
    const handoff = { ...state.handoff, ...change };
    return JSON.stringify(handoff) === JSON.stringify(state.handoff)
      ? nothing('Already set.')
      : done(state, { handoff });
  },
  describe: ({ change }) =>
    Object.entries(change)
      .map(([key, value]) => {
        const how = typeof value === 'object' && value ? `, ${LENGTHS_TEXT[value.lengths]}` : '';
        return `${TEXT[key as keyof typeof TEXT]} ${value ? 'on' : 'off'}${how}`;
      })
      .join(', '),
});

const TEXT = {
  addsRoot: 'adding a root',
  addsHelpers: 'adding helper bones',
  reorients: 'turning joints to the axes of the profile',
  conform: 'writing onto the shipped skeleton',
} as const;

const LENGTHS_TEXT = { own: 'its own lengths', skeleton: "the skeleton's lengths" } as const;
