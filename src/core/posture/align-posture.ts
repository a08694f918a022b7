import type { Role } from '../definition/definition';
import { conjugate, fromAxisAngle, multiply, shortestArc, type Quat } from '../math/quat';
import { decompose, type Mat4 } from '../math/mat4';
import { dot, type Vec3 } from '../math/vec3';
import { axisVector } from '../frame/normalise';
import { computeCarriers, computeWorlds, turnedLocalRotation, type RigPose } from '../rig/pose';
import { yawBetween } from './measure-posture';
import { computeRoleFrames, type FrameInput } from './role-frames';

export type AlignInput = Omit<FrameInput, 'worlds'>;

export interface AlignOptions {
  /** Roles to align; all by default. */
  readonly roles?: ReadonlySet<string>;
  /** File-space worlds in which the soles lie flat; those of the start by default. */
  readonly flatFeet?: readonly Mat4[];
}

/**
 * Turns the mapped segments onto the reference pose, parents first, each by the shortest rotation, so that no bone gets
 * a twist its parent does not bring. Feet keep the pitch and roll that they have where their soles lie flat, whatever
 * the legs do, and turn about the up axis only. Bone lengths are kept; children follow. The hips are lifted or lowered so
 * that the lower ankle keeps its height.
 *
 * @param start pose to start from.
 */
export function alignPosture(input: AlignInput, start: RigPose, { roles, flatFeet }: AlignOptions = {}): RigPose {
  const carriers = computeCarriers(input.rig);
  const rotations: Record<string, Quat> = { ...start.rotations };
  let pose: RigPose = { rotations, shift: start.shift };
  let worlds = computeWorlds(input.rig, pose, carriers);
  const before = ankleHeight(input, worlds);
  const flat = flatFeet ?? worlds;
  const toBody = input.normalisation.rotation as Quat;
  const inFile = (turn: Quat): Quat => multiply(conjugate(toBody), multiply(turn, toBody));
  for (const role of parentsFirst(input)) {
    if (role.alignment === 'leave' || !role.direction || (roles && !roles.has(role.id))) continue;
    const isYaw = role.alignment === 'yaw';
    const frame = computeRoleFrames({ ...input, worlds: isYaw ? flat : worlds }).get(role.id);
    if (!frame) continue;
    const { boneIndex, direction } = frame;
    const fileDelta = isYaw
      ? multiply(
          inFile(fromAxisAngle([0, 1, 0], yawBetween(direction, role.direction))),
          multiply(decompose(flat[boneIndex]).rotation, conjugate(decompose(worlds[boneIndex]).rotation)),
        )
      : inFile(shortestArc(direction, role.direction, role.hinge ?? undefined));
    rotations[boneIndex] = turnedLocalRotation(input.rig, worlds, carriers, boneIndex, fileDelta);
    pose = { rotations, shift: start.shift };
    worlds = computeWorlds(input.rig, pose, carriers);
  }
  return { rotations, shift: keepOnFloor(input, start, before, ankleHeight(input, worlds)) };
}

/** Definition order is not trusted: a role comes after the role above it. */
function parentsFirst({ definition, roleBones }: AlignInput): Role[] {
  const depth = (role: Role): number => {
    const parent = definition.roles.find((candidate) => candidate.id === role.parent);
    return parent ? depth(parent) + 1 : 0;
  };
  return definition.roles
    .filter((role) => roleBones.has(role.id))
    .map((role) => ({ role, depth: depth(role) }))
    .sort((a, b) => a.depth - b.depth)
    .map(({ role }) => role);
}

/** Height of the lower ankle along the body's up, file units; null without feet. */
function ankleHeight(input: AlignInput, worlds: readonly (readonly number[])[]): number | null {
  const up = axisVector(input.normalisation.up);
  const heights = ['leftFoot', 'rightFoot']
    .map((role) => input.roleBones.get(role))
    .filter((bone) => bone !== undefined)
    .map((bone) => dot([worlds[bone][12], worlds[bone][13], worlds[bone][14]], up));
  return heights.length > 0 ? Math.min(...heights) : null;
}

function keepOnFloor(input: AlignInput, start: RigPose, before: number | null, after: number | null): RigPose['shift'] {
  const hips = input.roleBones.get('hips');
  if (hips === undefined || before === null || after === null) return start.shift;
  const up = axisVector(input.normalisation.up);
  const rise = before - after;
  const known: Vec3 = start.shift?.offset ?? [0, 0, 0];
  const offset: Vec3 = [known[0] + up[0] * rise, known[1] + up[1] * rise, known[2] + up[2] * rise];
  return Math.hypot(...offset) > 1e-9 ? { boneIndex: hips, offset } : null;
}
