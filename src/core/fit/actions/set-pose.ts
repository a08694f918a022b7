import { z } from 'zod';
import { isRest } from '../../rig/pose';
import { RigPoseSchema, takenPosture, turnedBones, withTurned } from '../../posture/posture';
import { roleBonesOf } from '../fit';
import { defineAction } from './action';
import { done, nothing, unknownBone } from './outcome';

/** Where a pose comes from; `adjusted` ones are the fit's own posture, corrected by something that measured the mesh. */
const POSE_ORIGINS = ['bind', 'frame', 'character', 'file', 'soles', 'knees', 'drill'] as const;

/** Takes a whole pose: another one of the file's, another character's, a saved one, or the own one put on its soles. */
export const setPose = defineAction({
  schema: z.strictObject({
    kind: z.literal('set-pose'),
    origin: z.enum(POSE_ORIGINS),
    /** What a person calls it: the clip and frame, the character, the file. */
    label: z.string().max(200),
    pose: RigPoseSchema,
  }),
  label: 'Take a pose',
  apply: (state, { origin, pose }, subject) => {
    const { rig } = subject;
    const bones = [...Object.keys(pose.rotations).map(Number), ...(pose.shift ? [pose.shift.boneIndex] : [])];
    for (const bone of bones) {
      const unknown = Number.isInteger(bone) && bone >= 0 ? unknownBone(bone, rig) : nothing(`"${bone}" is no bone.`);
      if (unknown) return unknown;
    }
    for (const [bone, rotation] of Object.entries(pose.rotations))
      if (Math.abs(Math.hypot(...rotation) - 1) > UNIT_TOLERANCE)
        return nothing(`The rotation of ${rig.bones[Number(bone)].name} has no unit length.`);
    if (origin !== 'soles' && origin !== 'knees' && origin !== 'drill')
      return done(state, { posture: takenPosture(pose, state.posture) });
    const turned = turnedBones(rig, state.posture, pose);
    const input = { ...subject, roleBones: roleBonesOf(state) };
    return done(state, { posture: withTurned(input, state.posture, pose, turned) });
  },
  describe: ({ origin, label, pose }) => {
    if (origin === 'soles') return 'soles put flat on the floor';
    if (origin === 'drill') return `${label} turned as it was at a frame of a motion`;
    if (origin === 'knees') return `${label} bent to even the legs`;
    return isRest(pose) ? `pose taken from ${label}, the same as the file's rest` : `pose taken from ${label}`;
  },
});

const UNIT_TOLERANCE = 1e-4;
