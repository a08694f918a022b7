import { mirrorRole, sideOfRole, type Side } from '../definition/definition';
import { decompose } from '../math/mat4';
import { conjugate, multiply, type Quat } from '../math/quat';
import { computeCarriers, computeWorlds, REST_POSE, turnedLocalRotation, type RigPose } from '../rig/pose';
import type { AlignInput } from './align-order';

/**
 * Puts onto the other side how the segments of one side are turned against the file's rest, as their mirror image in the
 * body frame. Roles whose partner has no bone are left.
 *
 * @param roles roles of the side, or of both; all of it by default.
 */
export function mirrorPosture(input: AlignInput, start: RigPose, from: Side, roles?: ReadonlySet<string>): RigPose {
  const { definition, rig, roleBones } = input;
  const carriers = computeCarriers(rig);
  const toBody = input.normalisation.rotation as Quat;
  const rest = computeWorlds(rig, REST_POSE, carriers);
  const posed = computeWorlds(rig, start, carriers);
  const rotations: Record<string, Quat> = { ...start.rotations };
  const isMeant = (id: string) => !roles || roles.has(id) || roles.has(mirrorRole(definition, id));
  // The definition lists a role after the one above it, so each turn finds its parent where it is to be.
  for (const { id } of definition.roles) {
    const partner = mirrorRole(definition, id);
    const [bone, other] = [roleBones.get(id), roleBones.get(partner)];
    if (sideOfRole(definition, id) !== from || bone === undefined || other === undefined || !isMeant(id)) continue;
    const inFile = multiply(rotationOf(posed[bone]), conjugate(rotationOf(rest[bone])));
    const [x, y, z, w] = multiply(toBody, multiply(inFile, conjugate(toBody)));
    const mirrored = multiply(conjugate(toBody), multiply([x, -y, -z, w], toBody));
    const worlds = computeWorlds(rig, { rotations, shift: start.shift }, carriers);
    const wanted = multiply(mirrored, rotationOf(rest[other]));
    const delta = multiply(wanted, conjugate(rotationOf(worlds[other])));
    rotations[other] = turnedLocalRotation(rig, worlds, carriers, other, delta);
  }
  return { rotations, shift: start.shift };
}

const rotationOf = (world: readonly number[]): Quat => decompose(world).rotation;
