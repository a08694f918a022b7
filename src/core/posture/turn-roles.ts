import type { Definition } from '../definition/definition';
import { roleOf, sideOfRole } from '../definition/definition';
import { conjugate, fromAxisAngle, multiply, type Quat } from '../math/quat';
import { normalise, reject, type Vec3 } from '../math/vec3';
import { computeCarriers, computeWorlds, turnedLocalRotation, type RigPose } from '../rig/pose';
import type { AlignInput } from './align-order';
import { computeRoleFrame, type RoleFrame } from './role-frames';

/**
 * What a turn goes about. The body's axes: `left` swings ahead and back, `front` raises and lowers, `up` turns in and out.
 * The segment's own: `bone` twists it, `hinge` bends it.
 */
export const TURN_AXES = ['hinge', 'bone', 'left', 'front', 'up'] as const;
export type TurnAxis = (typeof TURN_AXES)[number];

export interface Turn {
  readonly roles: ReadonlySet<string>;
  readonly about: TurnAxis;
  readonly radians: number;
}

/**
 * Turns mapped segments in a pose; children follow. On the right side every turn is the mirror image of what it is on the
 * left, so that both hands can be turned at once. About an axis of the body only the topmost of a chain turns; about their
 * own axes all do. Roles without a bone, or whose axis cannot be told, stay.
 */
export function turnRoles(input: AlignInput, start: RigPose, { roles, about, radians }: Turn): RigPose {
  const { definition, rig, roleBones } = input;
  const carriers = computeCarriers(rig);
  const rotations: Record<string, Quat> = { ...start.rotations };
  const toBody = input.normalisation.rotation as Quat;
  const isOwn = about === 'hinge' || about === 'bone';
  const chosen = definition.roles.filter(
    ({ id }) => roles.has(id) && roleBones.has(id) && (isOwn || !hasRoleAbove(definition, roles, id)),
  );
  for (const { id } of chosen.sort((a, b) => depthOf(definition, a.id) - depthOf(definition, b.id))) {
    const worlds = computeWorlds(rig, { rotations, shift: start.shift }, carriers);
    const axis = turnAxisOf(definition, id, about, computeRoleFrame({ ...input, worlds }, id));
    if (!axis) continue;
    const inFile = multiply(conjugate(toBody), multiply(fromAxisAngle(axis, radians), toBody));
    const bone = roleBones.get(id) as number;
    rotations[bone] = turnedLocalRotation(rig, worlds, carriers, bone, inFile);
  }
  return { rotations, shift: start.shift };
}

/** The pose with one role's bone turned about its joint, children along; by a turn in the body's axes. */
export function turnRoleBy(input: AlignInput, start: RigPose, role: string, turn: Quat): RigPose {
  const bone = input.roleBones.get(role);
  if (bone === undefined) return start;
  const carriers = computeCarriers(input.rig);
  const worlds = computeWorlds(input.rig, start, carriers);
  const toBody = input.normalisation.rotation as Quat;
  const inFile = multiply(conjugate(toBody), multiply(turn, toBody));
  const rotation = turnedLocalRotation(input.rig, worlds, carriers, bone, inFile);
  return { ...start, rotations: { ...start.rotations, [bone]: rotation } };
}

const depthOf = (definition: Definition, id: string): number => {
  const { parent } = roleOf(definition, id);
  return parent === null ? 0 : depthOf(definition, parent) + 1;
};

function hasRoleAbove(definition: Definition, roles: ReadonlySet<string>, id: string): boolean {
  for (let at = roleOf(definition, id).parent; at !== null; at = roleOf(definition, at).parent)
    if (roles.has(at)) return true;
  return false;
}

const BODY_AXES: Readonly<Record<'left' | 'front' | 'up', Vec3>> = {
  left: [1, 0, 0],
  // A positive turn raises the left arm, and takes its end ahead.
  front: [0, 0, 1],
  up: [0, -1, 0],
};

/** Axis of a positive turn in the body frame, unit length; null where it cannot be told. */
export function turnAxisOf(definition: Definition, id: string, about: TurnAxis, frame: RoleFrame | null): Vec3 | null {
  if (about === 'hinge') return frame && hingeAxisOf(definition, id, frame);
  if (about === 'bone') return frame && sidedAxial(definition, id, frame.direction);
  return bodyAxisOf(definition, id, about);
}

/** Axis that a segment folds about: as its limb shows, else the definition's. */
export function hingeAxisOf(definition: Definition, id: string, frame: RoleFrame): Vec3 | null {
  const stated = roleOf(definition, id).hinge;
  return frame.hinge ?? (stated && normalise(reject(stated, frame.direction)));
}

/** Axis of the body for one role: on the right side the turn is the mirror image. */
export function bodyAxisOf(definition: Definition, id: string, about: 'left' | 'front' | 'up'): Vec3 {
  // Axes of turns are axial vectors: the mirror keeps the one across it and turns the others round.
  const [x, y, z] = BODY_AXES[about];
  return sideOfRole(definition, id) === 'right' ? [x, -y, -z] : [x, y, z];
}

function sidedAxial(definition: Definition, id: string, [x, y, z]: Vec3): Vec3 {
  return sideOfRole(definition, id) === 'right' ? [-x, -y, -z] : [x, y, z];
}
