import { z } from 'zod';
import { defineAction } from './action';
import { done, nothing } from './outcome';

/** More would be a pose, not an allowance for a body. */
export const MOST_ARM_OFFSET_DEG = 60;
const Degrees = z.number().min(0).max(MOST_ARM_OFFSET_DEG);

/** Holds the arms of a heavy body away in every motion; the reference pose stays as it is. */
export const setArmOffset = defineAction({
  schema: z.strictObject({
    kind: z.literal('set-arm-offset'),
    /** Null takes it off. */
    offset: z.strictObject({ left: Degrees, right: Degrees }).nullable(),
  }),
  label: 'Hold the arms away in motions',
  apply: (state, { offset }) => {
    const armOffsetDeg = offset && (offset.left > 0 || offset.right > 0) ? offset : null;
    if (JSON.stringify(armOffsetDeg) === JSON.stringify(state.layers.armOffsetDeg)) return nothing('Already set.');
    return done(state, { layers: { ...state.layers, armOffsetDeg } });
  },
  describe: ({ offset }) =>
    offset
      ? `arms held away in motions: left ${offset.left} degrees, right ${offset.right} degrees`
      : 'arms no longer held away in motions',
});
