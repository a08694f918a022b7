import { z } from 'zod';
import { DIGITS, FINGER_SEGMENTS, type Role } from '../definition/definition';
import { conjugate, fromAxisAngle, multiply, rotate, shortestArc, type Quat } from '../math/quat';
import { decompose, type Mat4 } from '../math/mat4';
import { cross, dot, normalise, reject, type Vec3 } from '../math/vec3';
import { computeCarriers, computeWorlds, turnedLocalRotation, type RigPose } from '../rig/pose';
import { ankleHeight, liftHips } from './lift-hips';
import { yawBetween } from './measure-posture';
import { carriesItsEnd, parentsFirst, type AlignInput } from './align-order';
import { computeRoleFrame, type RoleFrame } from './role-frames';
import { straightenBody } from './straighten-body';

/** What a person may choose about aligning. */
export const AlignChoicesSchema = z.strictObject({
  /** keep: a segment brings the turn about itself along. set: hinges are turned onto the definition's, where a limb shows them. */
  roll: z.enum(['keep', 'set']),
  /** straighten: every phalanx onto its target. keep: fingers turn as wholes, curled as they are. */
  curl: z.enum(['straighten', 'keep']),
  /** align: feet turn onto the definition's heading. keep: they stand as far out as they do. */
  feet: z.enum(['align', 'keep']),
  /** leave: collars as they slant. level: turned until they are level. */
  shoulders: z.enum(['leave', 'level']),
  /** leave: hips, spine, neck and collars as they lean. straighten: those that lean too far are turned upright. */
  body: z.enum(['leave', 'straighten']).default('leave'),
});
export type AlignChoices = z.infer<typeof AlignChoicesSchema>;
export const ALIGN_CHOICES: AlignChoices = {
  roll: 'keep',
  curl: 'straighten',
  feet: 'align',
  shoulders: 'leave',
  body: 'leave',
};

export interface AlignOptions {
  /** Roles to align; all by default. */
  readonly roles?: ReadonlySet<string>;
  /** File-space worlds in which the soles lie flat; those of the start by default. */
  readonly flatFeet?: readonly Mat4[];
  readonly choices?: AlignChoices;
}

/**
 * Turns the mapped segments onto the reference pose, parents first, each by the shortest rotation, so that no bone gets
 * a twist its parent does not bring. Feet keep the pitch and roll that they have where their soles lie flat, whatever
 * the legs do, and turn about the up axis only. Bone lengths are kept; children follow. The hips are lifted or lowered so
 * that the lower ankle keeps its height.
 *
 * @param start pose to start from.
 */
export function alignPosture(
  input: AlignInput,
  start: RigPose,
  { roles, flatFeet, choices = ALIGN_CHOICES }: AlignOptions = {},
): RigPose {
  const carriers = computeCarriers(input.rig);
  const original = computeWorlds(input.rig, start, carriers);
  const before = ankleHeight(input, original);
  const straight = choices.body === 'straighten' ? straightenBody(input, start, roles) : start;
  const rotations: Record<string, Quat> = { ...straight.rotations };
  const pose: RigPose = { rotations, shift: straight.shift };
  let worlds = computeWorlds(input.rig, pose, carriers);
  const flat = flatFeet ?? original;
  const toBody = input.normalisation.rotation as Quat;
  const inFile = (turn: Quat): Quat => multiply(conjugate(toBody), multiply(turn, toBody));
  for (const role of parentsFirst(input)) {
    const alignment = alignmentOf(role, choices);
    if (alignment === 'leave' || !role.direction || (roles && !roles.has(role.id))) continue;
    if (!carriesItsEnd(input, role.id)) continue;
    const frame = computeRoleFrame({ ...input, worlds: alignment === 'yaw' ? flat : worlds }, role.id);
    if (!frame) continue;
    const { boneIndex, direction } = frame;
    const fileDelta =
      alignment === 'yaw'
        ? multiply(
            inFile(fromAxisAngle([0, 1, 0], choices.feet === 'keep' ? 0 : yawBetween(direction, role.direction))),
            multiply(decompose(flat[boneIndex]).rotation, conjugate(decompose(worlds[boneIndex]).rotation)),
          )
        : inFile(alignment === 'level' ? levelled(frame) : ontoReference(frame, role, choices));
    rotations[boneIndex] = turnedLocalRotation(input.rig, worlds, carriers, boneIndex, fileDelta);
    worlds = computeWorlds(input.rig, pose, carriers);
  }
  return { rotations, shift: keepOnFloor(input, start, before, ankleHeight(input, worlds)) };
}

/** What is done with a role under the choices a person made. */
function alignmentOf({ id, alignment, side }: Role, { curl, shoulders }: AlignChoices): Role['alignment'] | 'level' {
  if (shoulders === 'level' && side !== 'centre' && id.endsWith('Shoulder')) return 'level';
  const isUpperPhalanx = FINGER_SEGMENTS.slice(1).some((segment) => id.endsWith(segment));
  const isDigit = DIGITS.some((digit) => id.startsWith(side + digit));
  // A thumb's own first bone is its metacarpal; its two phalanges curl.
  const isCurled = isDigit && (isUpperPhalanx || id === `${side}ThumbProximal`);
  return curl === 'keep' && isCurled ? 'leave' : alignment;
}

/** Turn of a segment onto its reference, in the body frame; with its hinge, where that is wanted and shown. */
function ontoReference(frame: RoleFrame, role: Role, { roll }: AlignChoices): Quat {
  const direction = normalise(role.direction as Vec3) as Vec3;
  const arc = shortestArc(frame.direction, direction, role.hinge ?? undefined);
  if (roll === 'keep' || !frame.hinge || !role.hinge) return arc;
  const [arrived, reference] = [rotate(arc, frame.hinge), normalise(reject(role.hinge, direction))];
  if (!reference) return arc;
  const rest = Math.atan2(dot(cross(arrived, reference), direction), dot(arrived, reference));
  return multiply(fromAxisAngle(direction, rest), arc);
}

/** Turn that takes the slant off a segment and leaves its heading. */
function levelled({ direction }: RoleFrame): Quat {
  const level = normalise([direction[0], 0, direction[2]]);
  return level ? shortestArc(direction, level) : [0, 0, 0, 1];
}

function keepOnFloor(input: AlignInput, start: RigPose, before: number | null, after: number | null): RigPose['shift'] {
  return before === null || after === null ? start.shift : liftHips(input, start, before - after).shift;
}
