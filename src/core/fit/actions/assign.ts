import { z } from 'zod';
import { defineAction } from './action';
import { done, putBones, unknownBone } from './outcome';
import { BoneIndex, RoleId } from './request-parts';

/** One bone has one role: giving it another moves it. */
export const assign = defineAction({
  schema: z.strictObject({ kind: z.literal('assign'), role: RoleId, boneIndex: BoneIndex }),
  label: 'Give a role its bone',
  apply: (state, { role, boneIndex }, { rig }) =>
    unknownBone(boneIndex, rig) ?? done(state, { assignments: putBones(state, new Map([[role, boneIndex]])) }),
  describe: ({ role, boneIndex }, naming) => `${naming.role(role)} is ${naming.bone(boneIndex)}`,
});
