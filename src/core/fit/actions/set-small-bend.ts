import { z } from 'zod';
import { defineAction } from './action';
import { done, nothing } from './outcome';

/** Whether straight elbows and knees are handed off with the definition's small bend. */
export const setSmallBend = defineAction({
  schema: z.strictObject({ kind: z.literal('set-small-bend'), isOn: z.boolean() }),
  label: 'Small bend of straight limbs at handoff',
  apply: (state, { isOn }, { definition }) => {
    if (isOn === state.hasSmallBend) return nothing('Already set.');
    const { elbowRad, kneeRad } = definition.smallBend;
    if (isOn && elbowRad === 0 && kneeRad === 0) return nothing(`${definition.label} states no small bend.`);
    return done(state, { hasSmallBend: isOn });
  },
  describe: ({ isOn }) =>
    isOn ? 'straight limbs are handed off with a small bend' : 'straight limbs are handed off straight',
});
