import { compose, decompose, multiply, IDENTITY, type Mat4 } from '../math/mat4';
import { multiply as multiplyQuat, normalise, type Quat } from '../math/quat';
import { ZERO, type Vec3 } from '../math/vec3';
import { computeCarriers, computeWorlds } from '../rig/pose';
import { worldRotations, type FittedRig, type StandingFigure } from './fitted-rig';

/** The space that a bone's local transform stands in, while the figure is in its reference posture: body frame, metres. */
export interface JointSpace {
  readonly rotation: Quat;
  readonly place: Vec3;
  /** Metres for each local unit. */
  readonly scale: number;
}

/** Spaces of a file's own local transforms: parent bone, and what stands between the two. */
export function fileSpaces({ rig, normalisation, pose }: FittedRig): JointSpace[] {
  const carriers = computeCarriers(rig);
  const worlds = computeWorlds(rig, pose, carriers);
  const turns = worldRotations(rig, pose);
  const s = normalisation.scale;
  const similarity = compose(ZERO, normalisation.rotation as Quat, [s, s, s]);
  return rig.bones.map(({ index, parent }) => {
    const base = multiply(similarity, multiply(parent >= 0 ? worlds[parent] : IDENTITY, carriers[index]));
    const { translation, scale } = decompose(base as Mat4);
    const carried = decompose(carriers[index]).rotation;
    const inFile = parent >= 0 ? multiplyQuat(turns[parent], carried) : carried;
    return {
      rotation: normalise(multiplyQuat(normalisation.rotation as Quat, inFile)),
      place: translation,
      scale: Math.cbrt(Math.abs(scale[0] * scale[1] * scale[2])),
    };
  });
}

/**
 * Spaces of a file as it is written: each bone right below its parent bone, metres, no scale.
 * @param root where top bones hang on a root that is added, its place; null without.
 */
export function writtenSpaces({ rig }: FittedRig, standing: StandingFigure, root: Vec3 | null): JointSpace[] {
  return rig.bones.map(({ parent }) => ({
    rotation: parent >= 0 ? standing.rotations[parent] : [0, 0, 0, 1],
    place: parent >= 0 ? standing.places[parent] : (root ?? ZERO),
    scale: 1,
  }));
}
