import { z } from 'zod';
import type { Assignment } from '../fit';
import { defineAction } from './action';
import { byPerson, done, nothing } from './outcome';
import { RoleId } from './request-parts';

/** Two roles exchange their bones; either may be vacant, not both. */
export const swap = defineAction({
  schema: z.strictObject({ kind: z.literal('swap'), roles: z.tuple([RoleId, RoleId]) }),
  label: 'Exchange two roles',
  apply: (state, { roles: [a, b] }) => {
    const { [a]: ofA, [b]: ofB, ...others } = state.assignments;
    if (a === b || (!ofA && !ofB)) return nothing('There is nothing to exchange.');
    const put = (role: string, from: Assignment | undefined) => (from ? { [role]: byPerson(from.boneIndex) } : {});
    return done(state, { assignments: { ...others, ...put(a, ofB), ...put(b, ofA) } });
  },
  describe: ({ roles: [a, b] }, naming) => `${naming.role(a)} and ${naming.role(b)} exchanged`,
});
