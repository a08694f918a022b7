import { z } from 'zod';
import { defineAction } from './action';
import { done, nothing, without } from './outcome';
import { RoleId } from './request-parts';

/** Says that a role has no bone on purpose. */
export const leaveVacant = defineAction({
  schema: z.strictObject({ kind: z.literal('leave-vacant'), role: RoleId }),
  label: 'Leave a role vacant',
  apply: (state, { role }) =>
    state.leftVacant.includes(role)
      ? nothing('Already left vacant.')
      : done(state, { assignments: without(state, role), leftVacant: [...state.leftVacant, role] }),
  describe: ({ role }, naming) => `${naming.role(role)} left vacant`,
});
