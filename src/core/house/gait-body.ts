import type { Side } from '../definition/definition';
import { SIDES } from '../definition/definition';
import { fromAxisAngle, rotate } from '../math/quat';
import { add, subtract, type Vec3 } from '../math/vec3';
import { wave } from './curves';
import { gaitArm } from './gait-arms';
import { footAt } from './gait-feet';
import type { GaitPlan } from './gait-types';
import { HOUSE_PLACES, LEG } from './house-body';
import type { Stance, Tilt } from './stance';

const RAD = Math.PI / 180;

/** Where the body is on its way, without sway and bounce. */
const wayAt = ({ velocity, climb, cycle }: GaitPlan, t: number): Vec3 => [
  velocity[0] * t,
  (climb * t) / cycle,
  velocity[2] * t,
];

/** The whole figure at a moment of a gait. */
export function gaitStance(plan: GaitPlan, t: number): Stance {
  const { settings } = plan;
  const c = t / plan.cycle;
  const hips = hipsAt(plan, t);
  const pelvis = pelvisAt(plan, c);
  const { lean, limp } = settings;
  const isRun = settings.gait === 'run';
  const overSore = limp * (0.5 + 0.5 * wave(c - plan.middle.right));
  const bag = settings.holds === 'bag' ? { left: -3, right: 3, both: 0, none: 0 }[settings.hands] : 0;
  return {
    hips,
    heading: 0,
    pelvis,
    trunk: {
      bend: lean * 0.65 + (isRun ? 1.5 : 0.8) * wave(2 * (c - plan.middle.left) + 0.5),
      // The back takes back what the hips drop, and leans over a sore leg.
      lean: -pelvis.lean * 0.9 - 7 * overSore + bag,
      turn: -pelvis.turn * 1.7,
    },
    head: { bend: lean * 0.25, lean: -1.5 * overSore, turn: pelvis.turn * -0.15 },
    arms: {
      left: gaitArm(plan, 'left', c, wayAt(plan, t)),
      right: gaitArm(plan, 'right', c, wayAt(plan, t)),
    },
    legs: { left: footAt(plan, 'left', t), right: footAt(plan, 'right', t) },
  };
}

function pelvisAt({ settings, middle }: GaitPlan, c: number): Tilt {
  const isAhead = settings.direction === 'ahead' || settings.direction === 'back';
  return {
    bend: settings.lean * 0.35 + (settings.gait === 'run' ? 3 : 0),
    // The hip over the leg that swings sinks.
    lean: -3.2 * wave(c - middle.left + 0.03),
    turn: isAhead ? -settings.hipTurn * wave(c) : 0,
  };
}

function hipsAt(plan: GaitPlan, t: number): Vec3 {
  const { settings, middle, cycle } = plan;
  const c = t / cycle;
  const sore = settings.limp * 0.018 * (0.5 + 0.5 * wave(c - middle.right));
  const [x, y, z] = wayAt(plan, t);
  return [
    x + settings.hipSway * wave(c - middle.left),
    y + plan.height + plan.bounce * wave(2 * (c - middle.left)) - sore,
    z,
  ];
}

/** Moments of a stride at which the legs are measured. */
const PROBES = 96;

/**
 * Highest place of the hips at which both legs reach their feet all through a stride; NaN where no height will do.
 * @param reach share of a leg's length that may be used.
 */
export function reachableHeight(plan: GaitPlan, reach: number): number {
  let height = Infinity;
  for (let probe = 0; probe < PROBES; probe++) {
    const t = (probe / PROBES) * plan.cycle;
    const hips = hipsAt(plan, t);
    const pelvis = pelvisAt(plan, t / plan.cycle);
    for (const side of SIDES) {
      const { ankle } = footAt(plan, side, t);
      const joint = hipJoint(hips, pelvis, side);
      const aside = Math.hypot(joint[0] - ankle[0], joint[2] - ankle[2]);
      const up = Math.sqrt((LEG * reach) ** 2 - aside * aside);
      height = Math.min(height, plan.height + ankle[1] + up - joint[1]);
    }
  }
  return height;
}

/** Near enough for a height: the small tilts of a pelvis one after another. */
function hipJoint(hips: Vec3, { bend, lean, turn }: Tilt, side: Side): Vec3 {
  const offset = subtract(HOUSE_PLACES[`${side}UpperLeg`], HOUSE_PLACES.hips);
  const turned = rotate(
    fromAxisAngle([0, 1, 0], turn * RAD),
    rotate(fromAxisAngle([0, 0, 1], -lean * RAD), rotate(fromAxisAngle([1, 0, 0], bend * RAD), offset)),
  );
  return add(hips, turned);
}
