import type { Side } from '../definition/definition';
import { fromAxisAngle, rotate } from '../math/quat';
import { add, scale, type Vec3 } from '../math/vec3';
import { ease, hermite, hermitePlace, hill, speedOf } from './curves';
import type { GaitPlan, Stepping } from './gait-types';
import { SOLE } from './house-body';
import { rolledFoot } from './planted-feet';
import type { LegPose } from './stance';

const RAD = Math.PI / 180;

/** A foot at a moment: planted, or on its way to where it is planted next. */
export function footAt(plan: GaitPlan, side: Side, t: number): LegPose {
  const step = plan.steps[side];
  const c = t / plan.cycle - step.strike;
  const k = Math.floor(c);
  const share = (c - k) / step.duty;
  const yaw = (side === 'left' ? 1 : -1) * step.out;
  if (share <= 1) return planted(step, spotOf(plan, side, k), yaw, share);
  const swing = (1 - step.duty) * plan.cycle;
  const x = (share - 1) * (step.duty / (1 - step.duty));
  const [from, to] = [spotOf(plan, side, k), spotOf(plan, side, k + 1)];
  const stance = step.duty * plan.cycle;
  const lift = planted(step, from, yaw, 1);
  const land = planted(step, to, yaw, 0);
  const speed = (spot: Vec3, at: number): Vec3 =>
    scale(
      speedOf((s) => planted(step, spot, yaw, s).ankle, at),
      swing / stance,
    );
  const place = hermitePlace(lift.ankle, speed(from, 1 - 2e-4), land.ankle, speed(to, 2e-4), x);
  const climb = Math.max(0, to[1] - from[1], from[1] - to[1]);
  const up = (settingsLift(plan) + climb * 0.75) * hill(x, to[1] > from[1] + 0.01 ? 0.42 : 0.5, climb > 0 ? 3 : 2);
  const pitch = hermite(lift.pitch, (step.offRate * swing) / stance, land.pitch, (step.strikeRate * swing) / stance, x);
  return {
    ankle: add(place, [0, up, 0]),
    pitch,
    yaw,
    // Where the toes come down first, they come down flat.
    toePitch: pitch * (ease(x * 1.6) - (step.strikePitch > 0 ? ease((x - 0.62) / 0.38) : 0)),
    freed: null,
  };
}

const settingsLift = ({ settings, clearance }: GaitPlan): number => settings.stepHeight + clearance;

/** Where a foot stands flat for the k-th time: the point of the floor below its ankle. */
function spotOf(plan: GaitPlan, side: Side, k: number): Vec3 {
  const { strike, duty } = plan.steps[side];
  const sign = side === 'left' ? 1 : -1;
  const t = (k + strike + duty * plan.passing) * plan.cycle;
  const stairs = plan.climb === 0 ? 0 : (plan.climb / 2) * (2 * k + (side === 'left' ? 0 : 1));
  return [(sign * plan.spacing) / 2 + plan.velocity[0] * t, stairs, plan.velocity[2] * t];
}

/** A foot on the floor, `share` of the time that it bears. */
function planted(step: Stepping, spot: Vec3, yaw: number, share: number): LegPose {
  const { strikePitch, offPitch, flatFrom, flatTo } = step;
  if (share < flatFrom) {
    const left = 1 - share / flatFrom;
    const pitch = strikePitch * left * left;
    // Down a stair the toes come first.
    const pivot = strikePitch < 0 ? SOLE.heel : SOLE.toeJoint;
    return rolledFoot(spot, yaw, pitch, pivot, strikePitch < 0 ? pitch : 0);
  }
  if (share <= flatTo) return rolledFoot(spot, yaw, 0, SOLE.heel, 0);
  const x = (share - flatTo) / (1 - flatTo);
  return rolledFoot(spot, yaw, offPitch * x * x, SOLE.toeJoint, 0);
}

/** Lowest point of a sole at a moment, metres above its floor. */
export function lowestSole({ ankle, pitch, yaw }: LegPose): number {
  return Math.min(
    ...[SOLE.heel, SOLE.ball].map((point) => {
      const pitched = rotate(fromAxisAngle([1, 0, 0], pitch * RAD), point);
      return add(ankle, rotate(fromAxisAngle([0, 1, 0], yaw * RAD), pitched))[1];
    }),
  );
}
