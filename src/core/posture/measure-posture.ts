import { roleOf, type Definition } from '../definition/definition';
import { rotate, shortestArc } from '../math/quat';
import { angleBetween, cross, dot, normalise, reject, type Vec3 } from '../math/vec3';
import { computeRoleFrames, type FrameInput, type RoleFrame } from './role-frames';

/** How far one role's segment is from the reference pose. */
export interface RoleDeviation {
  readonly role: string;
  readonly boneIndex: number;
  /** Angle between the segment and its reference, radians. For `yaw` roles: about the up axis only. */
  readonly deviationRad: number;
  /** Turn about the segment, radians, signed; null where the limb does not show it. */
  readonly rollRad: number | null;
  readonly toleranceRad: number;
  readonly isWithin: boolean;
  readonly alignment: 'align' | 'yaw' | 'leave';
}

export interface PostureMeasure {
  readonly deviations: readonly RoleDeviation[];
  readonly frames: ReadonlyMap<string, RoleFrame>;
}

/** Deviation and roll of every mapped role that the definition states a direction for. */
export function measurePosture(input: FrameInput): PostureMeasure {
  const frames = computeRoleFrames(input);
  const deviations: RoleDeviation[] = [];
  for (const frame of frames.values()) {
    const role = roleOf(input.definition, frame.role);
    if (!role.direction) continue;
    const deviationRad =
      role.alignment === 'yaw'
        ? Math.abs(yawBetween(frame.direction, role.direction))
        : angleBetween(frame.direction, role.direction);
    deviations.push({
      role: role.id,
      boneIndex: frame.boneIndex,
      deviationRad,
      rollRad: rollOf(frame, input.definition),
      toleranceRad: role.toleranceRad,
      isWithin: deviationRad <= role.toleranceRad,
      alignment: role.alignment,
    });
  }
  return { deviations, frames };
}

/** Signed angle about the up axis from `direction` to `reference`, radians; 0 for one that points straight up. */
export function yawBetween(direction: Vec3, reference: Vec3): number {
  if (Math.hypot(direction[0], direction[2]) < 1e-6) return 0;
  return Math.atan2(
    direction[2] * reference[0] - direction[0] * reference[2],
    direction[0] * reference[0] + direction[2] * reference[2],
  );
}

/** Turn about the segment that is left once it points along its reference. */
function rollOf(frame: RoleFrame, definition: Definition): number | null {
  const role = roleOf(definition, frame.role);
  if (!frame.hinge || !role.direction || !role.hinge) return null;
  const direction = normalise(role.direction);
  if (!direction) return null;
  const arrived = rotate(shortestArc(frame.direction, direction, role.hinge), frame.hinge);
  const reference = normalise(reject(role.hinge, direction));
  return reference ? Math.atan2(dot(cross(reference, arrived), direction), dot(reference, arrived)) : null;
}
