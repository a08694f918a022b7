import { SIDES, type Side } from '../definition/definition';
import { QUAY } from '../definition/quay';
import { angleOf, conjugate, multiply, rotate, type Quat } from '../math/quat';
import { add, distance, lengthOf, scale, subtract, type Vec3 } from '../math/vec3';
import { contactAt, type ContactPart, type Motion } from '../motion/motion';
import { HOUSE_PLACES, HOUSE_ROLES, LEG, SOLE } from './house-body';
import { sampleHouse, turnsAt, type HouseMotion } from './house-motion';
import { massCentre } from './mass-centre';
import { foldOf, placesOf, solveStance, type Turns } from './solve-stance';

/** What a motion of the house set does on the figure that it is made for. */
export interface HouseMeasures {
  /** Furthest that the bearing point of a foot moves on the floor while it bears, all of a contact together; metres. */
  readonly slideMetres: number;
  /** Lowest place of a sole against the floor, metres. */
  readonly lowestSoleMetres: number;
  /** Largest distance to the side of the centre of mass from the sole that bears alone; 0 above it. Metres. */
  readonly balanceAsideMetres: number;
  /** The same in the middle of each time that one foot bears, in all directions. */
  readonly balanceMiddleMetres: number;
  /** Smallest bend of a knee and of an elbow, degrees; below 0 it is folded the wrong way. */
  readonly leastKneeDegrees: number;
  readonly leastElbowDegrees: number;
  /** Most that a leg is asked to reach, of its length. */
  readonly stretch: number;
  /** Jump of a joint's place and of a role's turn where the end meets the start, and of their speeds; null for no loop. */
  readonly loop: {
    readonly metres: number;
    readonly degrees: number;
    readonly metresPerSecond: number;
    readonly degreesPerSecond: number;
  } | null;
}

interface Frame {
  readonly turns: Turns;
  readonly places: Readonly<Record<string, Vec3>>;
}

/** Plays a sampled motion on the house figure by its turns alone and measures it. */
export function measureHouse(house: HouseMotion): HouseMeasures {
  const motion = sampleHouse(house, QUAY);
  const frames = Array.from({ length: motion.frameCount }, (_, frame) => frameOf(motion, frame));
  const soles = SIDES.map((side) => frames.map((frame) => solesOf(frame, side)));
  const lone = SIDES.map((side) => alone(motion, side));
  const folds = (upper: string, lower: string, hinge: (side: Side) => Vec3): number =>
    Math.min(
      ...SIDES.flatMap((side) => frames.map(({ turns }) => foldOf(turns, side + upper, side + lower, hinge(side)))),
    );
  const [aside, middle] = balance(frames, lone);
  return {
    slideMetres: Math.max(0, ...motion.contacts.map((contact) => slideOf(frames, contact))),
    lowestSoleMetres: Math.min(
      ...soles.flatMap((each, at) => each.map((sole, frame) => sole - floorAt(motion, frames, SIDES[at], frame))),
    ),
    balanceAsideMetres: aside,
    balanceMiddleMetres: middle,
    leastKneeDegrees: folds('UpperLeg', 'LowerLeg', () => [1, 0, 0]),
    leastElbowDegrees: folds('UpperArm', 'LowerArm', (side) => [0, side === 'left' ? -1 : 1, 0]),
    stretch: Math.max(
      ...Array.from({ length: 240 }, (_, at) => solveStance(house.at((house.seconds * at) / 240)).stretch),
    ),
    loop: house.loops ? loopOf(house) : null,
  };
}

function frameOf(motion: Motion, frame: number): Frame {
  const turns = turnsAt(motion, frame);
  const hips = [0, 1, 2].map((k) => HOUSE_PLACES.hips[k] + motion.hips[frame * 3 + k] * LEG) as unknown as Vec3;
  return { turns, places: placesOf(turns, hips) };
}

/** Points of the foot that may bear: the heel, the ball as the toes' joint carries it, and the tip of the toes. */
function pointsOf(
  { turns, places }: Frame,
  side: Side,
): { readonly heel: Vec3; readonly joint: Vec3; readonly tip: Vec3 } {
  const ankle = places[`${side}Foot`];
  const joint = places[`${side}Toes`];
  const tip = subtract(SOLE.toe, SOLE.toeJoint);
  return {
    heel: add(ankle, rotate(turns[`${side}Foot`], SOLE.heel)),
    joint,
    tip: add(joint, rotate(turns[`${side}Toes`], tip)),
  };
}

const JOINT_HEIGHT = SOLE.toeJoint[1] + SOLE.ankle;

/** Lowest of the sole: heel, tip of the toes, and below their joint. */
function solesOf(frame: Frame, side: Side): number {
  const { heel, joint, tip } = pointsOf(frame, side);
  return Math.min(heel[1], tip[1], joint[1] - JOINT_HEIGHT);
}

/** Floor below a foot: 0, or the stair that it bears on next or before. */
function floorAt(motion: Motion, frames: readonly Frame[], side: Side, frame: number): number {
  const own = motion.contacts.filter(({ part }) => part === `${side}Foot`);
  const on = contactAt(motion.contacts, `${side}Foot`, frame);
  const heightOf = ({ from, to }: Motion['contacts'][number]): number =>
    solesOf(frames[Math.round((from + to) / 2)], side);
  if (on) return heightOf(on);
  // In the air, the lower of the two places between which it goes.
  const [before, after] = [own.filter(({ to }) => to < frame).at(-1), own.find(({ from }) => from > frame)];
  // Where it comes from or goes to is not in the clip, nothing can be said.
  return before && after ? Math.min(heightOf(before), heightOf(after)) : -Infinity;
}

/** How far the point that bears moves over a contact: heel first, then the joint of the toes. */
function slideOf(frames: readonly Frame[], { part, from, to }: Motion['contacts'][number]): number {
  if (part !== 'leftFoot' && part !== 'rightFoot') return 0;
  const side: Side = part === 'leftFoot' ? 'left' : 'right';
  const flat = (v: Vec3): Vec3 => [v[0], 0, v[2]];
  let slid = 0;
  for (let frame = from + 1; frame <= to; frame++) {
    const [before, now] = [pointsOf(frames[frame - 1], side), pointsOf(frames[frame], side)];
    // Whichever bears, moves least: the other is lifted.
    slid += Math.min(distance(flat(before.heel), flat(now.heel)), distance(flat(before.joint), flat(now.joint)));
  }
  return slid;
}

/** Frames in which a foot bears and the other does not. */
function alone(motion: Motion, side: Side): boolean[] {
  const bears = (part: ContactPart, frame: number): boolean => contactAt(motion.contacts, part, frame) !== null;
  const other = side === 'left' ? 'right' : 'left';
  return Array.from(
    { length: motion.frameCount },
    (_, frame) => bears(`${side}Foot`, frame) && !bears(`${other}Foot`, frame),
  );
}

function balance(frames: readonly Frame[], lone: readonly (readonly boolean[])[]): [number, number] {
  let [aside, middle] = [0, 0];
  SIDES.forEach((side, which) => {
    let from = -1;
    for (let frame = 0; frame <= frames.length; frame++) {
      const stands = frame < frames.length && lone[which][frame];
      if (stands) {
        if (from < 0) from = frame;
        aside = Math.max(aside, besideSole(frames[frame], side).aside);
      } else if (from >= 0) {
        // Cut off at the start or the end of the clip, the middle is not the middle.
        if (from > 0 && frame < frames.length)
          middle = Math.max(middle, besideSole(frames[(from + frame - 1) >> 1], side).all);
        from = -1;
      }
    }
  });
  return [aside, middle];
}

/** How far the centre of mass is off the sole of a foot, ahead and aside as hips and chest face between them. */
function besideSole(frame: Frame, side: Side): { aside: number; all: number } {
  const { turns, places } = frame;
  const ahead = add(rotate(turns.hips, [0, 0, 1]), rotate(turns.upperChest, [0, 0, 1]));
  const length = Math.hypot(ahead[0], ahead[2]) || 1;
  const [u, w] = [ahead[0] / length, ahead[2] / length];
  const offset = subtract(massCentre(frame.places), places[`${side}Foot`]);
  const along = offset[0] * u + offset[2] * w;
  const across = offset[0] * w - offset[2] * u;
  const beyond = Math.max(0, SOLE.heel[2] - along, along - SOLE.toe[2]);
  const aside = Math.max(0, Math.abs(across) - SOLE.halfWidth);
  return { aside, all: Math.hypot(beyond, aside) };
}

/** Joints and turns of a moment against the hips' own place, so that travel does not count. */
function pose(
  house: HouseMotion,
  t: number,
): { readonly turns: Turns; readonly places: Record<string, Vec3>; readonly hips: Vec3 } {
  const stance = house.at(t);
  const { turns } = solveStance(stance);
  // A figure that has turned is compared as it faces.
  const back = conjugate([
    0,
    Math.sin((stance.heading * Math.PI) / 360),
    0,
    Math.cos((stance.heading * Math.PI) / 360),
  ]);
  const faced = Object.fromEntries(Object.entries(turns).map(([role, turn]) => [role, multiply(back, turn)]));
  return { turns: faced, places: placesOf(faced, [0, 0, 0]), hips: rotate(back, stance.hips) };
}

function loopOf(house: HouseMotion): NonNullable<HouseMeasures['loop']> {
  const step = 1e-4;
  const { seconds } = house;
  const [end, start] = [pose(house, seconds), pose(house, 0)];
  const [before, after] = [pose(house, seconds - step), pose(house, step)];
  const turnBetween = (a: Quat, b: Quat): number => (angleOf(multiply(conjugate(a), b)) * 180) / Math.PI;
  const most = (of: (role: string) => number): number => Math.max(...HOUSE_ROLES.map(of));
  const moved = (a: Record<string, Vec3>, b: Record<string, Vec3>, role: string): Vec3 =>
    scale(subtract(b[role], a[role]), 1 / step);
  return {
    metres: Math.max(
      most((role) => distance(end.places[role], start.places[role])),
      Math.abs(house.travel.includes('vertical') ? 0 : end.hips[1] - start.hips[1]),
    ),
    degrees: most((role) => turnBetween(end.turns[role], start.turns[role])),
    metresPerSecond: Math.max(
      most((role) =>
        lengthOf(subtract(moved(before.places, end.places, role), moved(start.places, after.places, role))),
      ),
      lengthOf(
        subtract(scale(subtract(end.hips, before.hips), 1 / step), scale(subtract(after.hips, start.hips), 1 / step)),
      ),
    ),
    degreesPerSecond: most(
      (role) =>
        Math.abs(turnBetween(before.turns[role], end.turns[role]) - turnBetween(start.turns[role], after.turns[role])) /
        step,
    ),
  };
}

/**
 * Whether speeds are continuous: largest step of the speed of a turn or of the hips from one moment to the next, four
 * times as dense over as dense. Near 0.25 where they are, 1 where one jumps. Looked at closely only where the step is
 * largest around: a jump between two moments stands out there as at least half of itself.
 */
export function jumpRatio(house: HouseMotion): number {
  const count = Math.max(600, Math.round(house.seconds * 120));
  const dt = house.seconds / count;
  const steps = speedSteps(house, 0, dt, count);
  const most = Math.max(1e-9, ...steps);
  const close = steps.flatMap((step, at) =>
    step > most * 0.15 && step >= (steps[at - 1] ?? 0) && step >= (steps[at + 1] ?? 0)
      ? speedSteps(house, at * dt, dt / 4, 8)
      : [step / 4],
  );
  return Math.max(...close) / most;
}

/** Change of the fastest-changing speed between neighbours of `count` moments; one less than there are moments. */
function speedSteps(house: HouseMotion, from: number, dt: number, count: number): number[] {
  const stances = Array.from({ length: count + 1 }, (_, at) => house.at(from + dt * at));
  const turns = stances.map((stance) => solveStance(stance).turns);
  const speeds = stances.slice(1).map((stance, at): Vec3[] => [
    scale(subtract(stance.hips, stances[at].hips), 1 / dt),
    ...HOUSE_ROLES.map((role): Vec3 => {
      const [x, y, z, w] = multiply(turns[at + 1][role], conjugate(turns[at][role]));
      const share = (w < 0 ? -2 : 2) / dt;
      return [share * x, share * y, share * z];
    }),
  ]);
  return speeds.slice(1).map((now, at) => Math.max(...now.map((speed, k) => distance(speed, speeds[at][k]))));
}
