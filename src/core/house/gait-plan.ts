import type { Side } from '../definition/definition';
import { SIDES } from '../definition/definition';
import type { Vec3 } from '../math/vec3';
import { reachableHeight } from './gait-body';
import { footAt, lowestSole } from './gait-feet';
import type { GaitSettings } from './gait-settings';
import type { GaitPlan, Stepping } from './gait-types';
import { HOUSE_PLACES, LEG } from './house-body';

/** Cycles last whole frames at this rate and all that divide it, so that loops close on a frame. */
const FRAME = 1 / 60;
/** Share of a leg that may be used: a knee that snaps straight would jump. */
const REACH = 0.996;
/** Hips may sink so much, shares of a leg. */
const DEEPEST = { walk: 0.11, run: 0.17 } as const;
/** On stairs the hips are lower against their way by so many heights of a step: they rise once a foot is up. */
const RISE_DROP = 1.4;
const REST_HEIGHT = HOUSE_PLACES.hips[1];
/** Soles pass the floor at this height at least; metres. */
const CLEAR = 0.008;
/** Feet that step aside keep so far apart. */
const APART = 0.09;

/** Lays out a gait; a stride that the legs cannot make is shortened, and said. */
export function gaitPlan(settings: GaitSettings): GaitPlan {
  const remarks: string[] = [];
  const aside = settings.direction === 'left' || settings.direction === 'right';
  const spacing = aside ? Math.max(settings.spacing, 0.26) : settings.spacing;
  let { stride } = settings;
  if (aside && stride > 2 * (spacing - APART)) {
    stride = 2 * (spacing - APART);
    remarks.push(`The stride is held to ${stride.toFixed(2)} m: with a longer one the feet would cross.`);
  }
  let plan = raised(layOut(settings, stride, spacing, remarks));
  if (!isReached(plan)) {
    let [low, high] = [0.02, stride];
    for (let step = 0; step < 24; step++) {
      const middle = (low + high) / 2;
      if (isReached(raised(layOut(settings, middle, spacing, remarks)))) low = middle;
      else high = middle;
    }
    remarks.push(
      `The stride is held to ${low.toFixed(2)} m instead of ${stride.toFixed(2)} m: legs of ${LEG.toFixed(2)} m reach no further.`,
    );
    plan = raised(layOut(settings, low, spacing, remarks));
  }
  return { ...plan, clearance: clearanceOf(plan) };
}

function layOut(settings: GaitSettings, stride: number, spacing: number, remarks: readonly string[]): GaitPlan {
  const { gait, speed, limp, rise, direction, cycles } = settings;
  const frames = Math.max(8, Math.round(stride / speed / FRAME));
  const cycle = frames * FRAME;
  const isRun = gait === 'run';
  const aside = direction === 'left' || direction === 'right';
  const pace: Vec3 = aside ? [direction === 'left' ? speed : -speed, 0, 0] : [0, 0, speed];
  const briskness = isRun ? Math.max(0, Math.min(1, (speed - 2) / 4)) : Math.max(0, Math.min(1, (speed - 0.6) / 1.4));
  const duty = isRun ? 0.4 - 0.1 * briskness : 0.64 - 0.04 * briskness;
  const length = Math.min(1, stride / (isRun ? 2.4 : 1.4));
  const step = (side: Side): Stepping => {
    const sore = side === 'right' ? limp : 0;
    const ease = (1 - 0.6 * sore) * length;
    const down = rise < -0.02;
    const strikePitch = aside || rise > 0.02 ? 0 : down ? 16 : -(isRun ? 7 : 19) * ease;
    const offPitch = aside ? 10 : down ? 24 : (isRun ? 52 : 46 + 8 * briskness) * ease;
    const flatFrom = isRun ? 0.16 : 0.17;
    const flatTo = isRun ? 0.45 : 0.52;
    return {
      strike: side === 'left' ? 0 : 0.5 + 0.06 * limp,
      duty: duty + (side === 'right' ? -0.1 : 0.05) * limp * (isRun ? 0.4 : 1),
      strikePitch,
      offPitch,
      flatFrom,
      flatTo,
      strikeRate: (-2 * strikePitch) / flatFrom,
      offRate: (2 * offPitch) / (1 - flatTo),
      out: aside ? 4 : isRun ? 3 : 6,
    };
  };
  const steps = { left: step('left'), right: step('right') };
  const half = 0.4 * (stride / 2);
  // A leg that swings over like a stick raises the hips by this; a person flattens the way to about half of it.
  const stick = LEG - Math.sqrt(Math.max(0.1, LEG * LEG - half * half));
  const bounce = settings.bounce * (isRun ? -0.034 : Math.min(0.03, stick * 0.62));
  return {
    settings,
    cycle,
    strides: cycles,
    velocity: pace,
    climb: rise * 2,
    spacing,
    steps,
    middle: {
      left: (steps.right.strike + steps.right.duty - 1 + steps.right.strike) / 2,
      right: (steps.left.duty + 1) / 2,
    },
    passing: aside ? 0.5 : isRun ? 0.42 : 0.46,
    height: REST_HEIGHT,
    bounce,
    clearance: 0,
    briskness,
    remarks,
  };
}

/** The plan with its hips as high as the legs allow. */
function raised(plan: GaitPlan): GaitPlan {
  const top = REST_HEIGHT - (plan.settings.gait === 'run' ? 0.03 : 0.004);
  return { ...plan, height: Math.min(top, reachableHeight(plan, REACH)) };
}

const isReached = ({ height, settings }: GaitPlan): boolean =>
  height >= REST_HEIGHT - DEEPEST[settings.gait] * LEG - RISE_DROP * Math.abs(settings.rise);

/** How much higher feet are lifted so that soles pass clear of the floor. */
function clearanceOf(plan: GaitPlan): number {
  // Over stairs feet are lifted by the height of a step anyway.
  if (plan.climb !== 0) return 0;
  let missing = 0;
  for (const side of SIDES) {
    const { strike, duty } = plan.steps[side];
    // At both ends the sole is on the floor itself.
    for (let x = 0.15; x < 0.9; x += 0.025) {
      const t = (strike + duty + (1 - duty) * x) * plan.cycle;
      missing = Math.max(missing, CLEAR - lowestSole(footAt(plan, side, t)));
    }
  }
  return missing * 1.6;
}
