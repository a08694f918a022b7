import { z } from 'zod';
import { turnedBones, withTurned } from '../../posture/posture';
import { TURN_AXES, turnRoles as turn } from '../../posture/turn-roles';
import { boundedArray } from '../../schema/bounded-array';
import { roleBonesOf } from '../fit';
import { defineAction } from './action';
import { done, nothing } from './outcome';
import { MOST_ROLES, RoleId } from './request-parts';

const RADIANS = Math.PI / 180;

/** Turns segments by hand: what a person does by a step key, a typed angle or the handle. */
export const turnRoles = defineAction({
  schema: z.strictObject({
    kind: z.literal('turn-roles'),
    roles: boundedArray(RoleId, MOST_ROLES),
    about: z.enum(TURN_AXES),
    degrees: z.number().min(-360).max(360),
  }),
  label: 'Turn segments by hand',
  apply: (state, { roles, about, degrees }, subject) => {
    const roleBones = roleBonesOf(state);
    const mapped = new Set(roles.filter((role) => roleBones.has(role)));
    if (mapped.size === 0) return nothing('None of these roles has a bone to turn.');
    if (degrees === 0) return nothing('A turn by 0 degrees changes nothing.');
    const input = { ...subject, roleBones };
    const pose = turn(input, state.posture, { roles: mapped, about, radians: degrees * RADIANS });
    const turned = turnedBones(subject.rig, state.posture, pose);
    return done(state, { posture: withTurned(input, state.posture, pose, turned) });
  },
  describe: ({ roles, about, degrees }, naming) =>
    `${roles.length === 1 ? naming.role(roles[0]) : `${roles.length} roles`} turned by ${Number(degrees.toFixed(2))} degrees about ${ABOUT[about]}`,
});

const ABOUT: Readonly<Record<(typeof TURN_AXES)[number], string>> = {
  hinge: 'the hinge',
  bone: 'the segment',
  left: 'the left axis',
  front: 'the front axis',
  up: 'the up axis',
};
