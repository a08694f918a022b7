import { decompose } from '../math/mat4';
import { multiply, normalise, type Quat } from '../math/quat';
import { distance, type Vec3 } from '../math/vec3';
import { toBody } from '../frame/normalise';
import type { AlignInput } from '../posture/align-order';
import { SIDES } from '../definition/definition';
import { computeCarriers, computeWorlds, type RigPose } from '../rig/pose';

/** A rig with its roles and its reference posture: what motion is read from, and carried to. */
export interface FittedRig extends AlignInput {
  /** The reference posture. */
  readonly pose: RigPose;
}

/** A figure in its reference posture, in the body frame: x left, y up, z ahead, metres. */
export interface StandingFigure {
  /** World rotation of each bone. */
  readonly rotations: readonly Quat[];
  /** Joint of each bone. */
  readonly places: readonly Vec3[];
}

export function standingFigure({ rig, normalisation, pose }: FittedRig): StandingFigure {
  const turn = normalisation.rotation as Quat;
  const worlds = computeWorlds(rig, pose);
  return {
    rotations: worldRotations(rig, pose).map((rotation) => normalise(multiply(turn, rotation))),
    places: worlds.map((world) => toBody(normalisation, [world[12], world[13], world[14]])),
  };
}

/** File-space world rotations by quaternions only: a scale that is not the same on all axes turns nothing. */
export function worldRotations(rig: FittedRig['rig'], pose: RigPose): Quat[] {
  const carriers = computeCarriers(rig);
  const out: Quat[] = [];
  for (const { index, parent, rest } of rig.bones) {
    const local = (pose.rotations[index] ?? rest.rotation) as Quat;
    const carried = multiply(decompose(carriers[index]).rotation, local);
    out.push(normalise(parent >= 0 ? multiply(out[parent], carried) : carried));
  }
  return out;
}

/** Thigh joint to knee to ankle, mean of both sides, metres; a share of the figure's height where it has no whole leg. */
export function legLength({ roleBones, normalisation }: FittedRig, { places }: StandingFigure): number {
  const legs = SIDES.flatMap((side) => {
    const joints = ['UpperLeg', 'LowerLeg', 'Foot'].map((part) => roleBones.get(side + part));
    if (joints.some((bone) => bone === undefined)) return [];
    const [thigh, knee, ankle] = joints.map((bone) => places[bone as number]);
    return [distance(thigh, knee) + distance(knee, ankle)];
  });
  const mean = legs.reduce((sum, leg) => sum + leg, 0) / legs.length;
  return mean > 1e-6 ? mean : Math.max(1e-3, normalisation.heightMetres * LEG_SHARE);
}

/** Leg of a grown person, of the height. */
const LEG_SHARE = 0.45;

/** Bone of the nearest mapped role above a role; null for the hips, or where none is mapped. */
export function roleAbove({ definition, roleBones }: AlignInput, role: string): string | null {
  let at = definition.roles.find(({ id }) => id === role)?.parent ?? null;
  while (at !== null && !roleBones.has(at)) at = definition.roles.find(({ id }) => id === at)?.parent ?? null;
  return at;
}
