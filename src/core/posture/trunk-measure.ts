import { SIDES } from '../definition/definition';
import { translationOf } from '../math/mat4';
import { rotate, type Quat } from '../math/quat';
import { angleBetween, distance, mean, normalise, subtract, Y_AXIS, type Vec3 } from '../math/vec3';
import type { FrameInput } from './role-frames';

/** Roles of the middle of the body, from below, and those that end the last of them. */
const TRUNK = ['hips', 'spine', 'chest', 'upperChest'] as const;
const CHAIN = [...TRUNK, 'neck', 'head'] as const;
const MEASURED: readonly string[] = [...TRUNK, 'neck'];

/**
 * Joints of a trunk lie beside, behind and on top of one another in many upright figures, so that the way from one to
 * the next tells nothing. A segment ends at the first joint that is this far off, as a share of the trunk.
 */
const LEAST_SHARE = 0.15;
const LEAST_NECK_SHARE = 0.1;

/** How the middle of the body stands at one role. */
export interface TrunkMeasure {
  /** Where the body leads from there, unit, body frame. */
  readonly direction: Vec3;
  /**
   * From right to left: between the thighs at the hips, between the shoulders at the top of the trunk, body frame;
   * null at other roles.
   */
  readonly across: Vec3 | null;
}

export const isTrunkRole = (role: string): boolean => MEASURED.includes(role);

/**
 * Where the body leads from one of its middle roles. The hips begin between the thighs, whatever joint stands for them.
 * @returns null for other roles, and where the joints are too near to one another to tell.
 */
export function measureTrunk(role: string, input: FrameInput): TrunkMeasure | null {
  if (!isTrunkRole(role) || !input.roleBones.has(role)) return null;
  const place = placesOf(input);
  const from = startOf(role, place);
  const length = trunkLength(place);
  if (!from || length <= 0) return null;
  const least = (role === 'neck' ? LEAST_NECK_SHARE : LEAST_SHARE) * length;
  const later = CHAIN.slice(CHAIN.indexOf(role as (typeof CHAIN)[number]) + 1)
    .map(place)
    .filter((point) => point !== null);
  const leadingFrom = (start: Vec3 | null): Vec3 | null => {
    const end = start && later.find((point) => distance(start, point) >= least);
    return start && end ? normalise(subtract(end, start)) : null;
  };
  // A pelvis joint lies behind or under the thighs in many files, the thighs before it in others: either may show it.
  const direction = role === 'hips' ? moreUpright(leadingFrom(from), leadingFrom(place('hips'))) : leadingFrom(from);
  return direction ? { direction, across: acrossAt(role, input, place) } : null;
}

function moreUpright(a: Vec3 | null, b: Vec3 | null): Vec3 | null {
  if (!a || !b) return a ?? b;
  return angleBetween(a, Y_AXIS) <= angleBetween(b, Y_AXIS) ? a : b;
}

/** The topmost mapped role of the trunk: the shoulders hang on it. */
const topOfTrunk = ({ roleBones }: Pick<FrameInput, 'roleBones'>): string | undefined =>
  [...TRUNK].reverse().find((role) => roleBones.has(role));

type PlaceOfRole = (role: string) => Vec3 | null;

function placesOf({ roleBones, worlds, normalisation }: FrameInput): PlaceOfRole {
  return (role) => {
    const world = worlds[roleBones.get(role) ?? -1];
    return world ? rotate(normalisation.rotation as Quat, translationOf(world)) : null;
  };
}

function pairOf(part: string, place: PlaceOfRole): readonly [left: Vec3, right: Vec3] | null {
  const [left, right] = SIDES.map((side) => place(side + part));
  return left && right ? [left, right] : null;
}

function middleOf(part: string, place: PlaceOfRole): Vec3 | null {
  const pair = pairOf(part, place);
  return pair && mean(pair);
}

const startOf = (role: string, place: PlaceOfRole): Vec3 | null =>
  (role === 'hips' ? middleOf('UpperLeg', place) : null) ?? place(role);

/** Along its joints, so that a bent trunk is as long as a straight one. */
function trunkLength(place: PlaceOfRole): number {
  const top = place('neck') ?? middleOf('UpperArm', place) ?? place('head');
  const joints = [startOf('hips', place), ...TRUNK.slice(1).map(place), top].filter((point) => point !== null);
  return joints.slice(1).reduce((sum, joint, at) => sum + distance(joints[at], joint), 0);
}

/** A line that is nearly a point tells nothing: both thighs of some figures start at one joint. */
const LEAST_ACROSS = 0.05;

function acrossAt(role: string, input: FrameInput, place: PlaceOfRole): Vec3 | null {
  const part = role === 'hips' ? 'UpperLeg' : role === topOfTrunk(input) ? 'UpperArm' : null;
  const pair = part && pairOf(part, place);
  if (!pair || distance(...pair) < LEAST_ACROSS * trunkLength(place)) return null;
  return normalise(subtract(...pair));
}
