import { z } from 'zod';
import { findUnevenScale } from '../../posture/uneven-scale';
import { AlignChoicesSchema } from '../../posture/align-posture';
import { withAligned } from '../../posture/posture';
import { boundedArray } from '../../schema/bounded-array';
import { roleBonesOf } from '../fit';
import { defineAction } from './action';
import { done, nothing } from './outcome';
import { MOST_ROLES, RoleId } from './request-parts';

/** Turns roles onto the definition's reference pose; all of them where none is named. Always from the chosen pose. */
export const alignPosture = defineAction({
  schema: z.strictObject({
    kind: z.literal('align-posture'),
    roles: boundedArray(RoleId, MOST_ROLES).optional(),
    /** How; as it was done last by default. */
    choices: AlignChoicesSchema.optional(),
  }),
  label: 'Align the posture',
  apply: (state, { roles, choices }, subject) => {
    const input = { ...subject, roleBones: roleBonesOf(state) };
    if (roles && !roles.some((role) => input.roleBones.has(role)))
      return nothing('None of these roles has a bone to align.');
    if (input.roleBones.size === 0) return nothing('No role has a bone to align.');
    const uneven = findUnevenScale(input, roles ?? null);
    if (uneven) return nothing(uneven.message);
    return done(state, { posture: withAligned(input, state.posture, roles ?? null, choices) });
  },
  describe: ({ roles }, naming) =>
    !roles
      ? 'posture aligned'
      : roles.length === 1
        ? `${naming.role(roles[0])} aligned`
        : `${roles.length} roles aligned`,
});
