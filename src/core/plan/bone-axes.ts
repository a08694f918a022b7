import { roleOf, type Definition } from '../definition/definition';
import { axisVector } from '../frame/normalise';
import { decompose, type Mat4 } from '../math/mat4';
import { angleOf, conjugate, fromAxes, multiply, type Quat } from '../math/quat';
import { anyPerpendicular, cross, normalise, reject, scale, type Vec3 } from '../math/vec3';
import type { PostureMeasure } from '../posture/measure-posture';
import type { RoleFrame } from '../posture/role-frames';
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
  const turns = new Map<number, Quat>();
  for (const frame of posture.frames.values()) {
    const [first] = turnsOf(definition, frame, axes);
    if (first) turns.set(frame.boneIndex, first);
  }
  return turns;
}

/** Limbs fold far enough to show their hinge; what a digit shows is mostly how it was drawn. */
const SHOWS_HINGE = /(Arm|Leg)$/;

/** How a joint may stand: by the hinge that its limb shows, and by the one that the definition states. */
function turnsOf(
  definition: Definition,
  { role, direction, hinge }: RoleFrame,
  { along, hinge: across, isMirrored }: BoneAxes,
): Quat[] {
  const { side, hinge: stated } = roleOf(definition, role);
  const d = normalise(direction);
  if (!d) return [];
  const shown = SHOWS_HINGE.test(role) ? hinge : null;
  const hinges = [shown, stated].flatMap((each): Vec3[] => {
    const square = each && normalise(reject(each, d));
    return square ? [square] : [];
  });
  const way = isMirrored && side === 'right' ? scale(d, -1) : d;
  return (hinges.length > 0 ? hinges : [anyPerpendicular(d)]).map((h) =>
    bringing(axisVector(along), axisVector(across), way, h),
  );
}

export interface AxisDeviation {
  readonly role: string;
  readonly bone: number;
  readonly degrees: number;
}

/** How far the mapped joints are from the axes that a profile states. @param worlds of the joints as they are written. */
export function axisDeviations(input: AxesInput, worlds: readonly Mat4[], axes: BoneAxes): AxisDeviation[] {
  return [...input.posture.frames.values()].flatMap((frame) => {
    const own = conjugate(decompose(worlds[frame.boneIndex]).rotation);
    // A bone at the end of its line shows its direction by its own axes, whichever way these point along it.
    const isEnd = !input.definition.roles.some(
      ({ id, parent }) => parent === frame.role && input.posture.frames.has(id),
    );
    const ways = isEnd ? [frame.direction, scale(frame.direction, -1)] : [frame.direction];
    const degrees = ways
      .flatMap((direction) => turnsOf(input.definition, { ...frame, direction }, axes))
      .map((wanted) => (angleOf(multiply(wanted, own)) * 180) / Math.PI);
    return degrees.length > 0 ? [{ role: frame.role, bone: frame.boneIndex, degrees: Math.min(...degrees) }] : [];
  });
}
