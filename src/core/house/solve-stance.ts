import { DIGITS, digitRoles, SIDES, type Side } from '../definition/definition';
import { conjugate, fromAxes, fromAxisAngle, multiply, rotate, slerp, twistAngle, type Quat } from '../math/quat';
import { add, cross, distance, normalise, reject, scale, subtract, type Vec3 } from '../math/vec3';
import { along, softLeast, softMost } from './curves';
import { FOREARM, HOUSE_PARENTS, HOUSE_PLACES, HOUSE_ROLES, SHIN, THIGH, UPPER_ARM } from './house-body';
import type { ArmPose, LegAngles, Stance, Tilt } from './stance';

/** How each role is turned against the T-pose, in the body frame. */
export type Turns = Record<string, Quat>;

export interface SolvedStance {
  readonly turns: Turns;
  /** Longest of the two legs as they are asked to stand, of what a leg can reach; above 1 a foot does not get there. */
  readonly stretch: number;
}

const RAD = Math.PI / 180;
const X: Vec3 = [1, 0, 0];
const Y: Vec3 = [0, 1, 0];
const Z: Vec3 = [0, 0, 1];
const about = (axis: Vec3, degrees: number): Quat => fromAxisAngle(axis, degrees * RAD);
const chain = (...turns: readonly Quat[]): Quat => turns.reduce((product, each) => multiply(product, each));

const tilted = ({ bend, lean, turn }: Tilt): Quat => chain(about(Y, turn), about(Z, -lean), about(X, bend));
const part = (tilt: Tilt, share: number): Tilt => ({
  bend: tilt.bend * share,
  lean: tilt.lean * share,
  turn: tilt.turn * share,
});

/** Mirror image across the middle: a left limb's turn as the right one's. */
const mirrorTurn = ([x, y, z, w]: Quat): Quat => [x, -y, -z, w];
const mirrorPlace = ([x, y, z]: Vec3): Vec3 => [-x, y, z];
const onSide = (side: Side, turn: Quat): Quat => (side === 'left' ? turn : mirrorTurn(turn));

/** Shares of the trunk's bend that its three joints take. */
const TRUNK = [
  ['spine', 0.35],
  ['chest', 0.75],
  ['upperChest', 1],
] as const;

/** Works out the turn of every role; limbs that are told by a place by two-bone inverse kinematics about their hinge. */
export function solveStance(stance: Stance): SolvedStance {
  const solved = solveBody(stance);
  for (const side of SIDES) setFingers(solved.turns, side, stance.arms[side]);
  return solved;
}

/** The same without the fingers, which carry no weight to speak of. */
export function solveBody(stance: Stance): SolvedStance {
  const turns: Turns = {};
  const heading = about(Y, stance.heading);
  turns.hips = hipsTurn(stance);
  for (const [role, share] of TRUNK) turns[role] = multiply(turns.hips, tilted(part(stance.trunk, share)));
  turns.head = multiply(heading, tilted(stance.head));
  turns.neck = slerp(turns.upperChest, turns.head, 0.45);
  turns.jaw = turns.head;
  let stretch = 0;
  for (const side of SIDES) {
    turns[`${side}Eye`] = turns.head;
    stretch = Math.max(stretch, setLeg(turns, side, stance));
    setArm(turns, side, stance.arms[side], stance);
  }
  return { turns, stretch };
}

/** Joints of the house figure under some turns; of all of it, or of some roles with those above them. */
export function placesOf(turns: Turns, hips: Vec3, roles = HOUSE_ROLES): Record<string, Vec3> {
  const places: Record<string, Vec3> = {};
  for (const role of roles) {
    const parent = HOUSE_PARENTS[role];
    places[role] =
      parent === null
        ? hips
        : add(places[parent], rotate(turns[parent], subtract(HOUSE_PLACES[role], HOUSE_PLACES[parent])));
  }
  return places;
}

const hipsTurn = ({ heading, pelvis }: Stance): Quat => multiply(about(Y, heading), tilted(pelvis));

/** Joint of a thigh, by the hips alone. */
export const thighJoint = (stance: Stance, side: Side): Vec3 => thighAt(stance.hips, hipsTurn(stance), side);

const thighAt = (hips: Vec3, turn: Quat, side: Side): Vec3 =>
  add(hips, rotate(turn, subtract(HOUSE_PLACES[`${side}UpperLeg`], HOUSE_PLACES.hips)));

function setLeg(turns: Turns, side: Side, { hips, legs }: Stance): number {
  const { ankle, yaw, pitch, toePitch, freed } = legs[side];
  const heading = about(Y, yaw);
  const hip = thighAt(hips, turns.hips, side);
  const ahead = add(rotate(turns.hips, Z), rotate(heading, Z));
  const { upper, lower, stretch } = twoBones(hip, ankle, THIGH, SHIN, ahead);
  const placed = [upper, lower, multiply(heading, about(X, pitch)), multiply(heading, about(X, toePitch))];
  const share = freed?.share ?? 0;
  const free = freed && share > 0 ? freeLeg(turns.hips, side, freed.angles) : placed;
  LEG_ROLES.forEach((role, at) => (turns[side + role] = slerp(placed[at], free[at], share)));
  return share > 0 ? 0 : stretch;
}

const LEG_ROLES = ['UpperLeg', 'LowerLeg', 'Foot', 'Toes'] as const;

function freeLeg(hips: Quat, side: Side, { flex, abduct, inward, knee, ankle }: LegAngles): Quat[] {
  const upper = multiply(hips, onSide(side, chain(about(Z, abduct), about(X, -flex), about(Y, -inward))));
  const lower = multiply(upper, about(X, knee));
  const foot = multiply(lower, about(X, -ankle));
  return [upper, lower, foot, foot];
}

/** A limb this near to its full length counts as full: at the very end its joint would snap. */
const FULL = 0.9995;

/** Two segments from a joint to a place, folding towards `pole`; turns against a limb that hangs and folds ahead. */
function twoBones(
  from: Vec3,
  to: Vec3,
  first: number,
  second: number,
  pole: Vec3,
): { upper: Quat; lower: Quat; stretch: number } {
  const asked = distance(from, to);
  const reach = Math.max(Math.abs(first - second) + 1e-4, Math.min(asked, (first + second) * FULL));
  const axis = normalise(subtract(to, from)) ?? [0, -1, 0];
  const towards = normalise(reject(pole, axis)) ?? Z;
  const along = (first * first + reach * reach - second * second) / (2 * reach);
  const aside = Math.sqrt(Math.max(0, first * first - along * along));
  const joint = add(scale(axis, along), scale(towards, aside));
  const hinge = cross(towards, axis);
  return {
    upper: hangingFrame(scale(joint, 1 / first), hinge),
    lower: hangingFrame(scale(subtract(scale(axis, reach), joint), 1 / second), hinge),
    stretch: asked / (first + second),
  };
}

/** Turn of a segment that hangs down and folds about X onto a direction and a hinge. */
function hangingFrame(direction: Vec3, hinge: Vec3): Quat {
  const up = scale(direction, -1);
  const side = normalise(reject(hinge, up)) ?? X;
  return fromAxes(side, up, cross(side, up));
}

/** Takes an arm of the T-pose down to hanging, its palm to the thigh. */
const LOWERED = about(Z, -90);

function setArm(turns: Turns, side: Side, arm: ArmPose, stance: Stance): void {
  const chest = turns.upperChest;
  // Above 40 degrees the collar rises with the arm, a fifth as far.
  const raise = softMost(softMost(arm.abduct, arm.flex, 10) - 40, 0, 12);
  const lift = arm.shrug + raise * 0.22;
  turns[`${side}Shoulder`] = multiply(chest, onSide(side, chain(about(Y, -arm.ahead), about(Z, lift))));
  const upper = chain(about(X, -arm.flex), about(Z, arm.abduct), about(Y, -arm.inward), LOWERED);
  turns[`${side}UpperArm`] = multiply(chest, onSide(side, upper));
  const lower = about([0, -1, 0], arm.elbow);
  turns[`${side}LowerArm`] = multiply(turns[`${side}UpperArm`], onSide(side, lower));
  if (arm.reach && arm.reach.share > 0) reachFor(turns, side, arm.reach, stance);
  // Both bones of the forearm turn about one another: the elbow's end takes the smaller part.
  const roll = about(X, arm.pronate);
  turns[`${side}LowerArm`] = multiply(turns[`${side}LowerArm`], onSide(side, slerp([0, 0, 0, 1], roll, 0.4)));
  const hand = chain(slerp([0, 0, 0, 1], roll, 0.6), about(Y, arm.aside), about(Z, -arm.wrist));
  turns[`${side}Hand`] = multiply(turns[`${side}LowerArm`], onSide(side, hand));
}

function reachFor(
  turns: Turns,
  side: Side,
  { place, share, elbow }: NonNullable<ArmPose['reach']>,
  stance: Stance,
): void {
  const shoulder = placesOf(turnsToShoulder(turns, side), stance.hips)[`${side}UpperArm`];
  // Solved as a left arm that hangs and folds ahead: its elbow points back.
  const flip = side === 'left' ? (v: Vec3) => v : mirrorPlace;
  const [from, to] = [flip(shoulder), flip(place)];
  // Beyond its reach an arm stretches towards the place, and eases into its full length.
  const asked = distance(from, to);
  const held = softLeast(asked, (UPPER_ARM + FOREARM) * ARM_FULL, ARM_SOFT);
  const { upper, lower } = twoBones(from, along(from, to, held / asked), UPPER_ARM, FOREARM, flip(elbow));
  const turned = (limb: Quat): Quat => onSide(side, multiply(multiply(limb, HALF_TURN), LOWERED));
  for (const [role, limb] of [
    ['UpperArm', upper],
    ['LowerArm', lower],
  ] as const)
    turns[side + role] = slerp(turns[side + role], turned(limb), share);
}

/** Share of its length up to which an arm reaches, and how softly it gets there, metres. */
const ARM_FULL = 0.985;
const ARM_SOFT = 0.02;

/** A leg folds back and an arm ahead: a half turn about the limb takes one's hinge to the other's. */
const HALF_TURN = about(Y, 180);

/** What stands above an arm; the rest does not move its shoulder. */
const turnsToShoulder = (turns: Turns, side: Side): Turns => ({
  ...Object.fromEntries(HOUSE_ROLES.map((role) => [role, IDLE])),
  hips: turns.hips,
  spine: turns.spine,
  chest: turns.chest,
  upperChest: turns.upperChest,
  [`${side}Shoulder`]: turns[`${side}Shoulder`],
});
const IDLE: Quat = [0, 0, 0, 1];

/** How far each finger goes when they are spread, of the whole. */
const FAN = { Index: 1, Middle: 0.2, Ring: -0.6, Little: -1.3 } as const;

function setFingers(turns: Turns, side: Side, { fingers }: ArmPose): void {
  for (const digit of DIGITS) {
    const roles = digitRoles(side, digit);
    const curl = fingers.curl[digit];
    const [first, second] = roles.map((role) => HOUSE_PLACES[role]);
    const lead = normalise(subtract(second, first)) as Vec3;
    const leftLead: Vec3 = side === 'left' ? lead : mirrorPlace(lead);
    const hinge = digit === 'Thumb' ? Y : (normalise(cross(Y, leftLead)) as Vec3);
    roles.forEach((role, at) => {
      const above = at === 0 ? turns[`${side}Hand`] : turns[roles[at - 1]];
      const fan = at > 0 ? IDLE : digit === 'Thumb' ? about(X, curl[0]) : about(Y, -fingers.spread * FAN[digit]);
      const bend = digit === 'Thumb' && at === 0 ? about(Y, fingers.spread * -0.8) : about(hinge, curl[at]);
      turns[role] = multiply(above, onSide(side, chain(fan, bend)));
    });
  }
}

/** Bend of a knee or an elbow about its own hinge, degrees; below 0 it is folded the wrong way. */
export const foldOf = (turns: Turns, upper: string, lower: string, hinge: Vec3): number =>
  twistAngle(multiply(conjugate(turns[upper]), turns[lower]), hinge) / RAD;
