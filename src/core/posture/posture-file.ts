import { z } from 'zod';
import { conjugate, multiply, normalise, type Quat } from '../math/quat';
import { pathsOf } from '../rig/local-pose';
import type { RigPose } from '../rig/pose';
import type { Rig } from '../rig/rig';
import { boundedArray } from '../schema/bounded-array';
import { PostureSheetSchema } from './posture-sheet';

const MOST_BONES = 20_000;

/** A posture as it leaves Yarvo: turns of bones against their rest, named by path, and what was measured. docs/formats.md */
export const PostureFileSchema = z.strictObject({
  schema: z.literal('yarvo-posture-1'),
  character: z.string().max(200),
  definition: z.strictObject({ id: z.string().max(80), version: z.int().positive() }),
  bones: boundedArray(
    z.strictObject({
      /** Names from the top, each behind a slash. */
      path: z.string().max(20_000),
      /** Local turn after the rest rotation: x, y, z, w. */
      turn: z.tuple([z.number(), z.number(), z.number(), z.number()]),
    }),
    MOST_BONES,
  ),
  /** Lift of the hips against the rest, metres; null for none. */
  hipsLiftM: z.number().nullable(),
  measured: PostureSheetSchema.nullable(),
});
export type PostureFile = z.infer<typeof PostureFileSchema>;

/** Turns of a pose by the paths of its bones. */
export function turnsByPath(rig: Rig, pose: RigPose): PostureFile['bones'] {
  const paths = pathsOf(rig);
  return Object.entries(pose.rotations).map(([bone, rotation]) => ({
    path: paths[Number(bone)],
    turn: [...multiply(conjugate(rig.bones[Number(bone)].rest.rotation as Quat), rotation)] as [
      number,
      number,
      number,
      number,
    ],
  }));
}

/**
 * The same turns on another rig: a relative of the same tree, or the same file read anew. Turns are local, so they mean
 * the same wherever the rests do.
 *
 * @returns `strangers`: paths that the rig does not have, or has twice; then nothing is taken.
 */
export function poseOfTurns(
  rig: Rig,
  turns: PostureFile['bones'],
): { readonly pose: RigPose } | { readonly strangers: readonly string[] } {
  const places = new Map<string, number[]>();
  pathsOf(rig).forEach((path, bone) => places.set(path, [...(places.get(path) ?? []), bone]));
  const strangers = turns.map(({ path }) => path).filter((path) => places.get(path)?.length !== 1);
  if (strangers.length > 0) return { strangers };
  const rotations: Record<string, Quat> = {};
  for (const { path, turn } of turns) {
    const [bone] = places.get(path) as number[];
    rotations[bone] = normalise(multiply(rig.bones[bone].rest.rotation as Quat, turn));
  }
  return { pose: { rotations, shift: null } };
}
