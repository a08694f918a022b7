import { z } from 'zod';
import { SIDES } from '../../definition/definition';
import { mirrorPosture as mirror } from '../../posture/mirror-posture';
import { turnedBones, withTurned } from '../../posture/posture';
import { boundedArray } from '../../schema/bounded-array';
import { roleBonesOf } from '../fit';
import { defineAction } from './action';
import { done } from './outcome';
import { MOST_ROLES, RoleId } from './request-parts';

/** Puts the posture of one side onto the other as its mirror image; of all roles where none is named. */
export const mirrorPosture = defineAction({
  schema: z.strictObject({
    kind: z.literal('mirror-posture'),
    from: z.enum(SIDES),
    roles: boundedArray(RoleId, MOST_ROLES).optional(),
  }),
  label: 'Mirror the posture',
  apply: (state, { from, roles }, subject) => {
    const input = { ...subject, roleBones: roleBonesOf(state) };
    const pose = mirror(input, state.posture, from, roles && new Set(roles));
    const turned = turnedBones(subject.rig, state.posture, pose);
    return done(state, { posture: withTurned(input, state.posture, pose, turned) });
  },
  describe: ({ from, roles }) =>
    `${roles ? `${roles.length} roles` : 'posture'} mirrored from ${from} to ${from === 'left' ? 'right' : 'left'}`,
});
