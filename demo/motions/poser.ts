import { fromAxisAngle, multiply, rotate, shortestArc, slerp, IDENTITY, type Quat } from '@/core/math/quat';
import { add, distance, normalise, scale, subtract, type Vec3 } from '@/core/math/vec3';

const DEGREE = Math.PI / 180;
const X: Vec3 = [1, 0, 0];
const Y: Vec3 = [0, 1, 0];
const Z: Vec3 = [0, 0, 1];
const about = (axis: Vec3, degrees: number): Quat => fromAxisAngle(axis, degrees * DEGREE);
const then = (...turns: readonly Quat[]): Quat => turns.reduce((all, turn) => multiply(all, turn), IDENTITY);

/** What a body does at a moment: where the hips are, and how each part is turned against the T-pose, body frame. */
export interface Moment {
  readonly hips: Vec3;
  readonly turns: Readonly<Record<string, Quat>>;
}

/** How far along the back or the neck a joint lies, and how it turns there. */
export interface Back {
  readonly lean: number;
  readonly twist: number;
  readonly tilt: number;
}

interface ArmPose {
  /** Degrees below the horizontal. */
  readonly down: number;
  /** Degrees ahead of hanging straight. */
  readonly swing: number;
  readonly elbow: number;
  readonly wrist?: number;
}

/** Puts a body into a moment by what a person would say of it: feet on places, arms that swing, a back that leans. */
export class Poser {
  private readonly turns: Record<string, Quat> = {};
  private chest: Quat = IDENTITY;

  /** @param places joints of the T-pose by role. @param hips where they are now. @param heading degrees about up. */
  constructor(
    private readonly places: Readonly<Record<string, Vec3>>,
    readonly hips: Vec3,
    private readonly heading: number,
    sway: { readonly tilt?: number; readonly twist?: number; readonly lean?: number } = {},
  ) {
    const { tilt = 0, twist = 0, lean = 0 } = sway;
    this.turns.hips = then(about(Y, heading + twist), about(Z, tilt), about(X, lean));
  }

  back({ lean, twist, tilt }: Back): this {
    const hips = this.turns.hips;
    this.chest = then(hips, about(Y, twist), about(X, lean), about(Z, tilt));
    this.turns.trunkEnd = this.chest;
    this.look(0, 0);
    return this;
  }

  /** Where the head looks, against straight ahead: to its left, and down. */
  look(aside: number, down: number): this {
    this.turns.headEnd = then(about(Y, this.heading + aside), about(X, down));
    return this;
  }

  /** Puts an ankle on a place; the knee folds ahead. @param pitch of the foot, toes down. */
  leg(side: 'left' | 'right', ankle: Vec3, pitch = 0, toes = 0): this {
    const heading = about(Y, this.heading);
    const at = (part: string) => this.places[side + part];
    const hip = add(this.hips, rotate(this.turns.hips, subtract(at('UpperLeg'), this.places.hips)));
    const [upper, lower] = [distance(at('UpperLeg'), at('LowerLeg')), distance(at('LowerLeg'), at('Foot'))];
    const line = subtract(ankle, hip);
    const far = Math.min(Math.hypot(...line), (upper + lower) * 0.9995);
    const cosine = (upper * upper + far * far - lower * lower) / (2 * upper * far);
    const fold = Math.atan2(Math.sqrt(Math.max(0, 1 - cosine * cosine)), cosine);
    const way = normalise(line) ?? ([0, -1, 0] as Vec3);
    const thigh = rotate(fromAxisAngle(rotate(heading, X), -fold), way);
    const knee = add(hip, scale(thigh, upper));
    const shin = normalise(subtract(add(hip, scale(way, far)), knee)) ?? way;
    const onto = (from: string, to: string, direction: Vec3) =>
      multiply(shortestArc(rotate(heading, subtract(at(to), at(from))), direction), heading);
    this.turns[`${side}UpperLeg`] = onto('UpperLeg', 'LowerLeg', thigh);
    this.turns[`${side}LowerLeg`] = onto('LowerLeg', 'Foot', shin);
    this.turns[`${side}Foot`] = then(heading, about(X, pitch));
    this.turns[`${side}Toes`] = then(heading, about(X, pitch - toes));
    return this;
  }

  arm(side: 'left' | 'right', { down, swing, elbow, wrist = 0 }: ArmPose): this {
    const out = side === 'left' ? 1 : -1;
    const collar = then(this.chest, about(Z, out * Math.max(0, 60 - down) * 0.12));
    const upper = then(this.chest, about(X, -swing), about(Z, -out * down));
    const lower = then(upper, about([0, -out, 0], elbow));
    this.turns[`${side}Shoulder`] = collar;
    this.turns[`${side}UpperArm`] = upper;
    this.turns[`${side}LowerArm`] = lower;
    this.turns[`${side}Hand`] = then(lower, about(Z, out * wrist));
    return this;
  }

  /** Curls fingers and thumb, degrees from knuckle to tip. */
  fist(side: 'left' | 'right', curl: number): this {
    const out = side === 'left' ? 1 : -1;
    const hand = this.turns[`${side}Hand`] ?? this.chest;
    this.turns[`${side}FingersEnd`] = then(hand, about([0, 0, -out], curl));
    this.turns[`${side}ThumbEnd`] = then(hand, about([0, -out, 0], curl * 0.4));
    return this;
  }

  moment(): Moment {
    return { hips: this.hips, turns: this.turns };
  }
}

/**
 * How a joint is turned in a moment.
 * @param role of the joint; "trunk" and "neck" for members of a run. @param u how far along its run it lies, 0 to 1.
 */
export function turnOfJoint({ turns }: Moment, role: string, u: number): Quat {
  const run = (from: Quat, to: Quat | undefined) => (to ? slerp(from, to, u) : from);
  if (role === 'hips') return turns.hips;
  const chest = turns.trunkEnd ?? turns.hips;
  if (/^(spine|chest|upperChest|trunk)$/.test(role)) return run(turns.hips, chest);
  if (/^(neck|head)$/.test(role)) return run(chest, turns.headEnd);
  const [, side, digit] = /^(left|right)(Thumb|Index|Middle|Ring|Little)/.exec(role) ?? [];
  if (digit) return run(turns[`${side}Hand`] ?? chest, turns[side + (digit === 'Thumb' ? 'ThumbEnd' : 'FingersEnd')]);
  return turns[role] ?? chest;
}
