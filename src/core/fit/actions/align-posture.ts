import { z } from 'zod';
import { alignPosture as align } from '../../posture/align-posture';
import { boundedArray } from '../../schema/bounded-array';
import { roleBonesOf } from '../fit';
import { defineAction } from './action';
import { done } from './outcome';
import { MOST_ROLES, RoleId } from './request-parts';

/** Turns roles onto the definition's reference pose; all of them where none is named. */
export const alignPosture = defineAction({
  schema: z.strictObject({ kind: z.literal('align-posture'), roles: boundedArray(RoleId, MOST_ROLES).optional() }),
  label: 'Align the posture',
  apply: (state, { roles }, subject) => {
    const input = { ...subject, roleBones: roleBonesOf(state) };
    return done(state, { posture: align(input, state.posture, { roles: roles && new Set(roles) }) });
  },
  describe: ({ roles }) => (roles ? `${roles.length} roles aligned` : 'posture aligned'),
});
