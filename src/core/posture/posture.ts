import { z } from 'zod';
import type { Definition } from '../definition/definition';
import { conjugate, multiply, type Quat } from '../math/quat';
import { computeCarriers, computeWorlds, isRest, REST_POSE, type RigPose } from '../rig/pose';
import type { Rig } from '../rig/rig';
import { ALIGN_CHOICES, alignPosture, AlignChoicesSchema } from './align-posture';
import type { AlignInput } from './align-order';

const QuatSchema = z.tuple([z.number(), z.number(), z.number(), z.number()]).readonly();
const Vec3Schema = z.tuple([z.number(), z.number(), z.number()]).readonly();

/** A pose as it is kept. */
export const RigPoseSchema = z.strictObject({
  /** Bone index -> absolute local rotation in place of the file's rest. */
  rotations: z.record(z.string(), QuatSchema),
  shift: z.strictObject({ boneIndex: z.int().nonnegative(), offset: Vec3Schema }).nullable(),
});

/**
 * The reference pose of a fit: what stands, and what it was made from. Align always works on `start`, so that one set of
 * aligned roles gives one result, whatever was pressed before.
 */
export const PostureSchema = RigPoseSchema.extend({
  /** The pose that was chosen, without any turn by hand; null for the file's rest. */
  taken: RigPoseSchema.nullable().default(null),
  /** The chosen pose with the turns by hand; null while nothing is aligned, when what stands is it. */
  start: RigPoseSchema.nullable().default(null),
  /** Roles that align holds on the reference. */
  aligned: z.array(z.string()).default([]),
  choices: AlignChoicesSchema.default(ALIGN_CHOICES),
});
export type Posture = z.infer<typeof PostureSchema>;

export const FILE_REST: Posture = { ...REST_POSE, taken: null, start: null, aligned: [], choices: ALIGN_CHOICES };

/** What align starts from. */
const startOf = ({ start, rotations, shift }: Posture): RigPose => start ?? { rotations, shift };

/** A pose that was chosen, with nothing aligned or turned yet. */
export const takenPosture = (pose: RigPose, { choices }: Pick<Posture, 'choices'>): Posture => ({
  ...FILE_REST,
  ...pose,
  taken: isRest(pose) ? null : pose,
  choices,
});

/** Holds some more roles on the reference, or all of them. The result hangs on the set of roles alone. */
export function withAligned(
  input: AlignInput,
  posture: Posture,
  roles: readonly string[] | null,
  choices: Posture['choices'] = posture.choices,
): Posture {
  const start = startOf(posture);
  const wanted = new Set([...posture.aligned, ...(roles ?? input.definition.roles.map(({ id }) => id))]);
  // In the definition's order, so that equal sets are equal states.
  const aligned = input.definition.roles.map(({ id }) => id).filter((id) => wanted.has(id) && input.roleBones.has(id));
  const flatFeet = flatFeetOf(input, posture.taken, start);
  const pose = alignPosture(input, start, { roles: new Set(aligned), flatFeet, choices });
  return { ...pose, taken: posture.taken, start, aligned, choices };
}

/**
 * Takes over a pose that was changed by hand: the bones that were turned, and all below them, stand as they are from now
 * on, also when other roles are aligned later.
 */
export function withTurned(input: AlignInput, posture: Posture, pose: RigPose, turned: ReadonlySet<number>): Posture {
  if (posture.aligned.length === 0) return { ...posture, ...pose, start: null };
  const { rig, roleBones } = input;
  const free = new Set(turned);
  for (const { index, parent } of rig.bones) if (free.has(parent)) free.add(index);
  const start = startOf(posture);
  const rotations: Record<string, Quat> = { ...start.rotations };
  for (const bone of free) {
    if (pose.rotations[bone]) rotations[bone] = pose.rotations[bone];
    else delete rotations[bone];
  }
  const aligned = posture.aligned.filter((role) => !free.has(roleBones.get(role) ?? -1));
  return { ...posture, ...pose, start: { rotations, shift: start.shift }, aligned };
}

/** Bones whose local rotations differ between two poses. */
export const turnedBones = (rig: Rig, before: RigPose, after: RigPose): ReadonlySet<number> =>
  new Set(
    rig.bones
      .map(({ index }) => index)
      .filter((bone) => {
        const [a, b] = [before, after].map(({ rotations }) => rotations[bone] ?? rig.bones[bone].rest.rotation);
        return a.some((value, at) => Math.abs(value - b[at]) > 1e-12);
      }),
  );

/**
 * Worlds in which the feet lie as flat as in the file's rest, turned by what a person turned them: a moment of a walk
 * lifts a foot, and a leg that is swung ahead takes its foot along, but neither says how the sole lies.
 */
function flatFeetOf({ rig, definition, roleBones }: AlignInput, taken: RigPose | null, start: RigPose): number[][] {
  const rotations: Record<string, Quat> = {};
  for (const bone of feetOf(definition, roleBones)) {
    const rest = rig.bones[bone].rest.rotation as Quat;
    const [from, to] = [taken?.rotations[bone] ?? rest, start.rotations[bone] ?? rest];
    rotations[bone] = multiply(rest, multiply(conjugate(from), to));
  }
  return computeWorlds(rig, { rotations, shift: null }, computeCarriers(rig));
}

const feetOf = ({ roles }: Definition, roleBones: ReadonlyMap<string, number>): number[] =>
  roles.filter(({ alignment }) => alignment === 'yaw').flatMap(({ id }) => roleBones.get(id) ?? []);
