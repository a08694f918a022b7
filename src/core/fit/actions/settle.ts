import { z } from 'zod';
import { boundedArray } from '../../schema/bounded-array';
import { defineAction } from './action';
import { settleWhere } from './outcome';
import { MOST_ROLES, RoleId } from './request-parts';

/** A person says that what is proposed is right. */
export const settle = defineAction({
  schema: z.strictObject({ kind: z.literal('settle'), roles: boundedArray(RoleId, MOST_ROLES, 1) }),
  label: 'Settle roles',
  apply: (state, { roles }) => settleWhere(state, (role) => roles.includes(role)),
  describe: ({ roles }, naming) =>
    roles.length === 1 ? `${naming.role(roles[0])} settled` : `${roles.length} roles settled`,
});
