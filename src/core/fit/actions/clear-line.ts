import { z } from 'zod';
import { lineOfRole } from '../../definition/definition';
import { defineAction } from './action';
import { clearWhere } from './outcome';
import { LineId } from './request-parts';

/** Takes the bones from all roles of a line. */
export const clearLine = defineAction({
  schema: z.strictObject({ kind: z.literal('clear-line'), line: LineId }),
  label: 'Clear a line',
  apply: (state, { line }, { definition }) => clearWhere(state, (role) => lineOfRole(definition, role) === line),
  describe: ({ line }, naming) => `${naming.line(line)} cleared`,
});
