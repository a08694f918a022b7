import { roleOf, type Definition } from '../definition/definition';
import { axisVector } from '../frame/normalise';
import { decompose, type Mat4 } from '../math/mat4';
import { angleOf, conjugate, fromAxes, multiply, type Quat } from '../math/quat';
import { anyPerpendicular, cross, normalise, reject, scale, type Vec3 } from '../math/vec3';
import type { PostureMeasure } from '../posture/measure-posture';
import type { BoneAxes } from '../profile/profile';

interface AxesInput {
  readonly definition: Definition;
  readonly posture: PostureMeasure;
}

/** Rotation with a at `d` and b at `h`; both pairs at right angles. */
const bringing = (a: Vec3, b: Vec3, d: Vec3, h: Vec3): Quat =>
  multiply(fromAxes(d, h, cross(d, h)), conjugate(fromAxes(a, b, cross(a, b))));

/**
 * How each mapped joint stands in the written space where bones have the axes that a profile states, by bone: R with
 * R a = d and R b = h, a and b the axes along the bone and through the hinge, d and h the segment's direction and hinge
 * in the posture. Mirrored: R_right = -M R_left, M the reflection in the sagittal plane, so that the same local turn on
 * both sides gives mirrored poses; a then points from the joint's end back to it on the right.
 */
export function statedTurns({ definition, posture }: AxesInput, axes: BoneAxes): Map<number, Quat> {
  const [a, b] = [axisVector(axes.along), axisVector(axes.hinge)];
  const turns = new Map<number, Quat>();
  for (const { role, boneIndex, direction, hinge } of posture.frames.values()) {
    const { side, hinge: usual } = roleOf(definition, role);
    const d = normalise(direction);
    if (!d) continue;
    const h = normalise(reject(hinge ?? usual ?? anyPerpendicular(d), d)) ?? anyPerpendicular(d);
    turns.set(boneIndex, bringing(a, b, axes.isMirrored && side === 'right' ? scale(d, -1) : d, h));
  }
  return turns;
}

export interface AxisDeviation {
  readonly role: string;
  readonly bone: number;
  readonly degrees: number;
}

/** How far the mapped joints are from the axes that a profile states. @param worlds of the joints as they are written. */
export function axisDeviations(input: AxesInput, worlds: readonly Mat4[], axes: BoneAxes): AxisDeviation[] {
  const turns = statedTurns(input, axes);
  return [...input.posture.frames.values()].flatMap(({ role, boneIndex: bone }) => {
    const wanted = turns.get(bone);
    if (!wanted) return [];
    const own = decompose(worlds[bone]).rotation;
    return [{ role, bone, degrees: (angleOf(multiply(wanted, conjugate(own))) * 180) / Math.PI }];
  });
}
