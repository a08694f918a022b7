import { roleOf, sideOfRole, type Definition } from '../definition/definition';
import { cross, dot, reject, type Vec3 } from '../math/vec3';
import { bodyAxisOf, hingeAxisOf, type TurnAxis } from './turn-roles';
import { computeRoleFrame, type FrameInput, type RoleFrame } from './role-frames';

/**
 * The angle of a segment that a turn about an axis changes, radians, rising with a positive turn; null where it cannot
 * be told. `hinge`: how far the joint at its head is bent. `bone`: nothing is told. `front`: above the
 * horizontal. `left`: behind straight down. `up`: ahead of straight out.
 */
export function turnAngle(input: FrameInput, role: string, about: TurnAxis): number | null {
  const frame = computeRoleFrame(input, role);
  // What a limb shows of its roll is where it folds, and a forearm's own twist does not change that.
  if (!frame || about === 'bone') return null;
  if (about === 'hinge') {
    const above = computeRoleFrame(input, roleOf(input.definition, role).parent ?? '');
    const axis = hingeAxisOf(input.definition, role, frame);
    return above && axis ? signedAngle(above.direction, frame.direction, axis) : null;
  }
  return signedAngle(
    referenceOf(input.definition, role, about, frame),
    frame.direction,
    bodyAxisOf(input.definition, role, about),
  );
}

/** Where the angle about an axis of the body is counted from. */
function referenceOf(
  definition: Definition,
  role: string,
  about: 'left' | 'front' | 'up',
  { direction }: RoleFrame,
): Vec3 {
  const side = sideOfRole(definition, role);
  // On the centre line nothing points outward: trunk and head are counted from straight up.
  if (side === null) return about === 'up' ? [0, 0, 1] : [0, Math.sign(direction[1]) || 1, 0];
  if (about === 'left') return [0, -1, 0];
  return [side === 'left' ? 1 : -1, 0, 0];
}

/** Angle from one direction to another as seen along an axis; null where either lies along it. */
function signedAngle(from: Vec3, to: Vec3, axis: Vec3): number | null {
  const [a, b] = [reject(from, axis), reject(to, axis)];
  if (Math.hypot(...a) < 1e-3 || Math.hypot(...b) < 1e-3) return null;
  return Math.atan2(dot(cross(a, b), axis), dot(a, b));
}
