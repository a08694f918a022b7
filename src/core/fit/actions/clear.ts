import { z } from 'zod';
import { defineAction } from './action';
import { done, nothing, without } from './outcome';
import { RoleId } from './request-parts';

/** Takes its bone from a role. */
export const clear = defineAction({
  schema: z.strictObject({ kind: z.literal('clear'), role: RoleId }),
  label: 'Clear a role',
  apply: (state, { role }) =>
    Object.hasOwn(state.assignments, role)
      ? done(state, { assignments: without(state, role) })
      : nothing(`${role} has no bone.`),
  describe: ({ role }, naming) => `${naming.role(role)} cleared`,
});
