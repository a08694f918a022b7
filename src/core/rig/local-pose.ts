import { decompose, invertAffine, multiply, translationOf, IDENTITY, type Mat4 } from '../math/mat4';
import { conjugate, multiply as multiplyQuat, normalise, angleOf, type Quat } from '../math/quat';
import { subtract } from '../math/vec3';
import { computeCarriers, computeWorlds, type RigPose } from './pose';
import type { Rig } from './rig';

/** Rotations nearer to the rest than this are the rest. */
const SAME_RAD = 1e-7;

/**
 * The pose whose bones are turned as in some worlds. Lengths are the rig's own; of what moved, only the hips follow.
 *
 * @param worlds file-space world matrices, one per bone.
 * @param hips bone that carries the figure, null for none.
 */
export function poseFromWorlds(rig: Rig, worlds: readonly Mat4[], hips: number | null): RigPose {
  const carriers = computeCarriers(rig);
  const rotations: Record<string, Quat> = {};
  for (const { index, parent, rest } of rig.bones) {
    const above = multiply(parent >= 0 ? worlds[parent] : IDENTITY, carriers[index]);
    const inverse = invertAffine(above);
    if (!inverse) continue;
    const { rotation } = decompose(multiply(inverse, worlds[index]));
    if (angleOf(multiplyQuat(conjugate(rest.rotation as Quat), rotation)) > SAME_RAD)
      rotations[index] = normalise(rotation);
  }
  if (hips === null) return { rotations, shift: null };
  const stands = computeWorlds(rig, { rotations, shift: null }, carriers)[hips];
  const offset = subtract(translationOf(worlds[hips]), translationOf(stands));
  return { rotations, shift: Math.hypot(...offset) > 1e-9 ? { boneIndex: hips, offset } : null };
}

/** File-space worlds of the bind pose; a bone that no skin lists stands as at rest. */
export const bindWorlds = ({ bones }: Pick<Rig, 'bones'>): Mat4[] =>
  bones.map(({ bindWorld, restWorld }) => bindWorld ?? restWorld);

/** Worlds of the poses that every file holds: its rest and its bind pose. */
export const filePoses = (rig: Pick<Rig, 'bones'>): Mat4[][] => [
  rig.bones.map(({ restWorld }) => restWorld),
  bindWorlds(rig),
];

/** Names from the top to each bone: "/hips/spine". Where two are alike, both have one path. */
export function pathsOf({ bones }: Pick<Rig, 'bones'>): string[] {
  const paths: string[] = [];
  for (const { index, parent, name } of bones) paths[index] = `${parent >= 0 ? paths[parent] : ''}/${name}`;
  return paths;
}
