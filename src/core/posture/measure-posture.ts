import { roleOf, type Definition, type Role } from '../definition/definition';
import { rotate, shortestArc } from '../math/quat';
import { angleBetween, cross, dot, normalise, reject, X_AXIS, type Vec3 } from '../math/vec3';
import { computeRoleFrames, type FrameInput, type RoleFrame } from './role-frames';
import { isTrunkRole, measureTrunk, type TrunkMeasure } from './trunk-measure';

/** How far one role's segment is from the reference pose. */
export interface RoleDeviation {
  readonly role: string;
  readonly boneIndex: number;
  /**
   * Angle between the segment and its reference, radians. For `yaw` roles: about the up axis only. For the trunk also
   * what its thighs slant and its shoulders are turned, if that is more.
   */
  readonly deviationRad: number;
  /** Turn about the segment, radians, signed; null where the limb does not show it. */
  readonly rollRad: number | null;
  readonly toleranceRad: number;
  readonly isWithin: boolean;
  /** So far off that no motion told against this pose can be right: it stops a handoff. */
  readonly isStopping: boolean;
  readonly alignment: 'align' | 'yaw' | 'leave';
}

export interface PostureMeasure {
  readonly deviations: readonly RoleDeviation[];
  readonly frames: ReadonlyMap<string, RoleFrame>;
}

const DEGREE = Math.PI / 180;
/**
 * What the body's own build explains at most, where aligning leaves a segment as it is: necks, collars and spines of
 * upright figures lean, but never this far.
 */
const STOPPING_RAD = 40 * DEGREE;

/** Deviation and roll of every mapped role that the definition states a direction for. */
export function measurePosture(input: FrameInput): PostureMeasure {
  const frames = computeRoleFrames(input);
  const deviations: RoleDeviation[] = [];
  for (const frame of frames.values()) {
    const role = roleOf(input.definition, frame.role);
    if (!role.direction) continue;
    const off = isTrunkRole(role.id) ? trunkOff(role, input) : segmentOff(role, frame, input);
    if (off === null) continue;
    const isWithin = off.rad <= role.toleranceRad;
    deviations.push({
      role: role.id,
      boneIndex: frame.boneIndex,
      deviationRad: off.rad,
      rollRad: rollOf(frame, input.definition),
      toleranceRad: role.toleranceRad,
      isWithin,
      isStopping: !isWithin && (role.alignment !== 'leave' || off.stoppingRad > STOPPING_RAD),
      alignment: role.alignment,
    });
  }
  return { deviations, frames };
}

/** @property stoppingRad the part of it that upright figures do not have by their build. */
interface Off {
  readonly rad: number;
  readonly stoppingRad: number;
}

function segmentOff(role: Role, { direction, boneIndex, isInferred }: RoleFrame, input: FrameInput): Off | null {
  // What is taken from the bone before is that bone's, and it is judged there.
  if (role.alignment === 'leave' && isInferred) return null;
  if (role.id === 'head' && !hasCrown(input, boneIndex)) return null;
  const reference = role.direction as Vec3;
  const rad =
    role.alignment === 'yaw' ? Math.abs(yawBetween(direction, reference)) : angleBetween(direction, reference);
  return { rad, stoppingRad: role.id === 'head' ? 0 : rad };
}

/** Whether a head ends in a bone that moves nothing and carries nothing: others are a jaw, an eye, a hat. */
function hasCrown({ rig, roleBones }: FrameInput, head: number): boolean {
  const mapped = new Set(roleBones.values());
  const children = rig.bones.filter(({ parent, index }) => parent === head && !mapped.has(index));
  return (
    children.length === 1 &&
    children[0].skinVertexCount === 0 &&
    !rig.bones.some(({ parent }) => parent === children[0].index)
  );
}

/** Where it leads, how its thighs slant, how its shoulders are turned: the worst of them. */
function trunkOff(role: Role, input: FrameInput): Off | null {
  const measure = measureTrunk(role.id, input);
  if (!measure) return null;
  const lead = angleBetween(measure.direction, role.direction as Vec3);
  const line = lineOff(role.id, measure);
  // A curved back is built that way; hips and neck are where a whole figure bends.
  const isWholeBody = role.id === 'hips' || role.id === 'neck';
  return { rad: Math.max(lead, line), stoppingRad: Math.max(isWholeBody ? lead : 0, line) };
}

/** What a facing is snapped to is a convention, so that thighs only slant; shoulders are turned as well. */
function lineOff(role: string, { across }: TrunkMeasure): number {
  if (!across) return 0;
  return role === 'hips' ? Math.abs(Math.asin(Math.max(-1, Math.min(1, across[1])))) : angleBetween(across, X_AXIS);
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
