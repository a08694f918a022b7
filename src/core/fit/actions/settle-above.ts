import { z } from 'zod';
import { defineAction } from './action';
import { settleWhere } from './outcome';

/** Settles what is proposed and sure. A doubt wants a person's look: settling in bulk leaves it as it is. */
export const settleAbove = defineAction({
  schema: z.strictObject({ kind: z.literal('settle-above'), confidence: z.number().min(0).max(1) }),
  label: 'Settle sure proposals',
  apply: (state, { confidence }, { match }) =>
    settleWhere(state, (role, assignment) => {
      const proposal = match.assignments[role];
      const isStillProposed = proposal?.boneIndex === assignment.boneIndex && proposal.confidence >= confidence;
      return assignment.origin === 'match' && assignment.state === 'proposed' && isStillProposed;
    }),
  describe: ({ confidence }) => `proposals at ${Math.round(confidence * 100)} % or more settled`,
});
