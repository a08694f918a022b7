import { z } from 'zod';
import { mirrorRole, SIDES, sideOfRole } from '../../definition/definition';
import { defineAction } from './action';
import { done, nothing, putBones } from './outcome';

/** Puts onto the other side what stands on this one, by the mirror partners of its bones. */
export const mirror = defineAction({
  schema: z.strictObject({ kind: z.literal('mirror'), from: z.enum(SIDES) }),
  label: 'Copy a side to the other',
  apply: (state, { from }, { match, definition }) => {
    const put = new Map<string, number>();
    for (const [role, { boneIndex }] of Object.entries(state.assignments)) {
      const partner = sideOfRole(definition, role) === from ? (match.partners[boneIndex] ?? -1) : -1;
      if (partner >= 0 && partner !== boneIndex) put.set(mirrorRole(definition, role), partner);
    }
    if (put.size === 0) return nothing(`Nothing on the ${from} side has a mirror image.`);
    const changed = new Map([...put].filter(([role, bone]) => state.assignments[role]?.boneIndex !== bone));
    if (changed.size === 0) return nothing('The other side already matches.');
    return done(state, { assignments: putBones(state, changed) });
  },
  describe: ({ from }) => `${from} side copied to the ${from === 'left' ? 'right' : 'left'}`,
});
