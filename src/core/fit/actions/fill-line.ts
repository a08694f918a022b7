import { z } from 'zod';
import { lineOfRole } from '../../definition/definition';
import { boundedArray } from '../../schema/bounded-array';
import { fillLine as findRun } from '../fill-line';
import { defineAction } from './action';
import { done, putBones } from './outcome';
import { BoneIndex, LineId } from './request-parts';

/**
 * Bones of a line in order; with two, those between them on the tree come along; with one, the run that starts there.
 * Roles of the line that the run does not reach stand empty: what they held belonged to another reading of it.
 */
export const fillLine = defineAction({
  schema: z.strictObject({ kind: z.literal('fill-line'), line: LineId, bones: boundedArray(BoneIndex, 100, 1) }),
  label: 'Fill a line',
  apply: (state, { line, bones }, subject) => {
    const run = findRun(line, bones, subject);
    if (typeof run === 'string') return { ok: false, code: 'no-run', message: run };
    const others = Object.entries(state.assignments).filter(([role]) => lineOfRole(subject.definition, role) !== line);
    return done(state, { assignments: putBones({ ...state, assignments: Object.fromEntries(others) }, run) });
  },
  describe: ({ line }, naming) => `${naming.line(line)} filled by its bones`,
});
