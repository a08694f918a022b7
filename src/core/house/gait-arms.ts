import type { Side } from '../definition/definition';
import type { Vec3 } from '../math/vec3';
import { wave } from './curves';
import type { GaitPlan } from './gait-types';
import { FIST, HANGING, RELAXED, type ArmPose, type FingerPose } from './stance';

/** Fingers of a runner: closed halfway. */
const LOOSE_FIST: FingerPose = {
  curl: { Thumb: [18, 22, 25], Index: [45, 50, 25], Middle: [50, 55, 28], Ring: [52, 56, 28], Little: [54, 56, 28] },
  spread: -2,
};

/** Where a hand holds, from the way on the floor; left hand. */
const HELD_AT: Readonly<Record<'rail' | 'lantern', { place: Vec3; elbow: Vec3 }>> = {
  rail: { place: [0.36, 0.98, 0.14], elbow: [0.5, -0.4, -0.8] },
  lantern: { place: [0.2, 1.24, 0.36], elbow: [0.6, -0.8, -0.2] },
};

/** An arm of a walk: it swings against the leg of its side, forearm and hand a little later; or holds something. */
export function gaitArm({ settings, briskness }: GaitPlan, side: Side, c: number, way: Vec3): ArmPose {
  const isRun = settings.gait === 'run';
  const phase = side === 'left' ? c : c - 0.5;
  const size = settings.armSwing * (isRun ? 26 + 6 * briskness : 10 + 9 * briskness);
  // 1 where the arm is furthest ahead; what hangs on it comes later.
  const swing = (lag: number): number => -wave(phase - lag);
  const arm: ArmPose = isRun
    ? {
        ...HANGING,
        flex: 2 + size * swing(0.02),
        abduct: 13,
        inward: 22 + 6 * swing(0.05),
        elbow: 84 + 14 * settings.armSwing * swing(0.06),
        pronate: 5,
        wrist: 4 + 5 * swing(0.12),
        ahead: 4 * settings.armSwing * swing(0.02),
        fingers: LOOSE_FIST,
      }
    : {
        ...HANGING,
        flex: 3 + size * swing(0.02),
        elbow: 17 + settings.armSwing * (7 + 5 * briskness) * swing(0.08),
        wrist: 5 + 4 * settings.armSwing * swing(0.15),
        ahead: 3 * settings.armSwing * swing(0.02),
        fingers: RELAXED,
      };
  const holds = settings.hands === 'both' || settings.hands === side;
  if (!holds) return arm;
  if (settings.holds === 'bag')
    return { ...arm, flex: 2 + size * 0.2 * swing(0.02), abduct: 11, elbow: 5, wrist: 2, shrug: -2, fingers: FIST };
  const { place, elbow } = HELD_AT[settings.holds];
  const sign = side === 'left' ? 1 : -1;
  return {
    ...arm,
    // What it holds goes on at one pace, whatever the body does.
    reach: {
      place: [sign * place[0] + way[0], place[1] + way[1], place[2] + way[2]],
      share: 1,
      elbow: [sign * elbow[0], elbow[1], elbow[2]],
    },
    pronate: settings.holds === 'rail' ? 50 : 10,
    wrist: 0,
    fingers: FIST,
  };
}
