import { compose, decompose, invertAffine, multiply, IDENTITY, type Mat4 } from '../math/mat4';
import { multiply as multiplyQuat, conjugate, normalise, type Quat } from '../math/quat';
import { add, type Vec3 } from '../math/vec3';
import type { Rig } from './rig';

/**
 * A pose as differences from the file's rest: absolute local rotations of the bones that were turned, and a shift of
 * one bone (the hips) in file-space world units. Lengths and scales are the file's own.
 */
export interface RigPose {
  readonly rotations: Readonly<Record<string, Quat>>;
  readonly shift: { readonly boneIndex: number; readonly offset: Vec3 } | null;
}

export const REST_POSE: RigPose = { rotations: {}, shift: null };

/** Whether a pose changes nothing of the file's rest. */
export const isRest = ({ rotations, shift }: RigPose): boolean => shift === null && Object.keys(rotations).length === 0;

/** Worked out once for each rig: a rig never changes, and every pose asks for them. */
const carriersOf = new WeakMap<Rig, readonly Mat4[]>();

/**
 * What stands between a bone's parent bone and its own local transform: the identity, or the nodes of the file that are
 * no bones. Constant over poses.
 */
export function computeCarriers(rig: Rig): readonly Mat4[] {
  const known = carriersOf.get(rig);
  if (known) return known;
  const carriers = rig.bones.map((bone) => {
    const local = compose(bone.rest.translation, bone.rest.rotation, bone.rest.scale);
    const inverseLocal = invertAffine(local);
    const parentInverse = bone.parent >= 0 ? invertAffine(rig.bones[bone.parent].restWorld) : [...IDENTITY];
    // A bone of scale zero has no inverse; its carrier cannot be told and is taken as none.
    if (!inverseLocal || !parentInverse) return IDENTITY;
    return multiply(multiply(parentInverse, bone.restWorld), inverseLocal);
  });
  carriersOf.set(rig, carriers);
  return carriers;
}

/** File-space world matrices of all bones in a pose. Bones are in parent-before-child order, so one pass does. */
export function computeWorlds(rig: Rig, pose: RigPose, carriers: readonly Mat4[] = computeCarriers(rig)): number[][] {
  const worlds: number[][] = [];
  rig.bones.forEach((bone, index) => {
    const rotation = pose.rotations[index] ?? bone.rest.rotation;
    const base = multiply(bone.parent >= 0 ? worlds[bone.parent] : IDENTITY, carriers[index]);
    const world = multiply(base, compose(bone.rest.translation, rotation, bone.rest.scale));
    if (pose.shift?.boneIndex === index) {
      const moved = add([world[12], world[13], world[14]], pose.shift.offset);
      [world[12], world[13], world[14]] = moved;
    }
    worlds.push(world);
  });
  return worlds;
}

/** Local rotation that turns a bone by `delta` (a file-space world rotation) from where it stands in `worlds`. */
export function turnedLocalRotation(
  rig: Rig,
  worlds: readonly Mat4[],
  carriers: readonly Mat4[],
  bone: number,
  delta: Quat,
): Quat {
  const parent = rig.bones[bone].parent;
  const base = multiply(parent >= 0 ? worlds[parent] : IDENTITY, carriers[bone]);
  const baseRotation = decompose(base).rotation;
  const world = decompose(worlds[bone]).rotation;
  return normalise(multiplyQuat(conjugate(baseRotation), multiplyQuat(delta, world)));
}
