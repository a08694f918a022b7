import { z } from 'zod';
import { defineAction } from './action';
import { done, nothing } from './outcome';

const Name = z.string().min(1).max(200);

/** Which of the figure's own morph targets stands for one that the engine drives. */
export const setMorph = defineAction({
  schema: z.strictObject({
    kind: z.literal('set-morph'),
    wanted: Name,
    /** Null for none; left out: as its name says. */
    own: Name.nullable().optional(),
  }),
  label: 'Map a morph target',
  apply: (state, { wanted, own }) => {
    const { [wanted]: before, ...others } = state.morphs;
    if (before === own) return nothing('Already set.');
    // A target stands for one at most.
    const rest = Object.fromEntries(Object.entries(others).filter(([, other]) => other === null || other !== own));
    return done(state, { morphs: own === undefined ? rest : { ...rest, [wanted]: own } });
  },
  describe: ({ wanted, own }) => {
    if (own === undefined) return `morph target ${wanted}: as the names say`;
    return own === null ? `morph target ${wanted} left vacant` : `morph target ${own} stands for ${wanted}`;
  },
});
