import { DIGITS, type Digit, type Side } from '../definition/definition';
import { between } from './curves';
import type { HouseMotion } from './house-motion';
import { JOINT_RANGES } from './joint-ranges';
import { balanced, flatFoot, STANDING } from './planted-feet';
import {
  HANGING,
  STRETCHED,
  UPRIGHT,
  type ArmPose,
  type FingerPose,
  type LegAngles,
  type LegPose,
  type Stance,
  type Tilt,
} from './stance';

/** Seconds to get to an end of a range, to stay there, and to come back. */
const [OUT, HOLD, BACK] = [0.7, 0.25, 0.65];
const EACH = OUT + HOLD + BACK;

/** How far the `at`-th movement of a row is out, 0 to 1. */
const outOf = (t: number, at: number): number => {
  const start = at * EACH;
  return between(t, start, start + OUT) - between(t, start + OUT + HOLD, start + EACH);
};

/** Sum over a row of movements of how far each is out times what it does. */
function row<Change extends object>(t: number, moves: readonly Change[]): Partial<Record<keyof Change, number>> {
  const sum: Record<string, number> = {};
  moves.forEach((move, at) => {
    const out = outOf(t, at);
    for (const [key, value] of Object.entries(move)) sum[key] = (sum[key] ?? 0) + out * (value as number);
  });
  return sum as Partial<Record<keyof Change, number>>;
}

type ArmChange = Partial<Record<'flex' | 'abduct' | 'inward' | 'elbow' | 'pronate' | 'wrist' | 'aside', number>>;
const added = (arm: ArmPose, change: ArmChange): ArmPose => ({
  ...arm,
  ...Object.fromEntries(
    Object.entries(change).map(([key, value]) => [key, (arm[key as keyof ArmChange] ?? 0) + value]),
  ),
});

const FEET: { readonly left: LegPose; readonly right: LegPose } = {
  left: flatFoot([0.1, 0, 0], 6),
  right: flatFoot([-0.1, 0, 0], -6),
};

export const AT_EASE: Stance = {
  hips: [0, STANDING[1] - 0.008, 0],
  heading: 0,
  pelvis: UPRIGHT,
  trunk: UPRIGHT,
  head: UPRIGHT,
  arms: { left: HANGING, right: HANGING },
  legs: FEET,
};

const BOTH_FEET = (seconds: number): HouseMotion['contacts'] => [
  { part: 'leftFoot', from: 0, to: seconds },
  { part: 'rightFoot', from: 0, to: seconds },
];

const standing = (name: string, seconds: number, at: (t: number) => Stance): HouseMotion => ({
  name,
  seconds,
  at: (t) => balanced(at(t), [0, 0.045]),
  contacts: BOTH_FEET(seconds),
  loops: true,
  travel: [],
  remarks: [],
});

/** Arms hang in the reference of a range: the angles are told from there. */
const STRAIGHT_ARM: ArmPose = {
  ...HANGING,
  flex: 0,
  abduct: 6,
  inward: 0,
  elbow: 0,
  pronate: 0,
  wrist: 0,
  fingers: STRETCHED,
};

/** Shoulder, elbow, forearm and wrist of both arms, one movement after another. */
export function armRange(): HouseMotion {
  const { shoulder, elbow, forearm, wrist } = JOINT_RANGES;
  const moves: ArmChange[] = [
    { flex: shoulder.flex - 4 },
    { flex: -shoulder.extend },
    { abduct: shoulder.abduct - 12 },
    // Turned about itself with the elbow bent, so that it is seen.
    // In front of the belly, not through it.
    { inward: shoulder.inward, elbow: 90, abduct: 10, flex: 24 },
    { inward: -shoulder.outward, elbow: 90 },
    { elbow: elbow.flex },
    { elbow: 90, pronate: forearm.down },
    { elbow: 90, pronate: -forearm.up },
    { elbow: 90, wrist: wrist.flex },
    { elbow: 90, wrist: -wrist.extend },
    { elbow: 90, aside: wrist.littlewards },
    { elbow: 90, aside: -wrist.thumbwards },
  ];
  return standing('Arms, full range', moves.length * EACH, (t) => {
    const arm = added(STRAIGHT_ARM, row(t, moves));
    return { ...AT_EASE, arms: { left: arm, right: arm } };
  });
}

/** Trunk and head through their ranges; the feet stay. */
export function trunkRange(): HouseMotion {
  const { trunk, neck } = JOINT_RANGES;
  const bends: Partial<Tilt>[] = [
    { bend: trunk.flex },
    { bend: -trunk.extend },
    { lean: trunk.lean },
    { lean: -trunk.lean },
    { turn: trunk.turn },
    { turn: -trunk.turn },
  ];
  const nods: Partial<Tilt>[] = [
    { bend: neck.flex },
    { bend: -neck.extend },
    { lean: neck.lean },
    { lean: -neck.lean },
    { turn: neck.turn },
    { turn: -neck.turn },
  ];
  const rest = bends.map(() => ({}));
  return standing('Trunk and head, full range', (bends.length + nods.length) * EACH, (t) => {
    const body = row(t, bends);
    const head = row<Partial<Tilt>>(t, [...rest, ...nods]);
    const [bend, lean, turn] = [body.bend ?? 0, body.lean ?? 0, body.turn ?? 0];
    // Arms hang beside the leaning trunk, not through the thigh.
    const arm: ArmPose = { ...HANGING, abduct: HANGING.abduct + Math.abs(lean) * 0.6 };
    return {
      ...AT_EASE,
      arms: { left: arm, right: arm },
      // The hips go a part of the way, as far as a person's do with them.
      pelvis: { bend: bend * 0.15, lean: lean * 0.05, turn: turn * 0.1 },
      trunk: { bend, lean, turn },
      head: {
        bend: bend * 0.9 + (head.bend ?? 0),
        lean: lean * 0.9 + (head.lean ?? 0),
        turn: turn + (head.turn ?? 0),
      },
    };
  });
}

/** Hip, knee and ankle of one leg after the other, the body's weight over the other foot. */
export function legRange(): HouseMotion {
  const { hip, knee, ankle } = JOINT_RANGES;
  const moves = [
    { flex: hip.flex, knee: 110 },
    { flex: -hip.extend, knee: 60 },
    { flex: 10, abduct: hip.abduct, knee: 20 },
    { flex: 45, abduct: -hip.adduct, knee: 30 },
    { flex: 90, knee: 90, inward: hip.inward },
    { flex: 90, knee: 90, inward: -hip.outward },
    { flex: 25, knee: knee.flex },
    { flex: 55, knee: 40, ankle: ankle.up },
    { flex: 55, knee: 40, ankle: -ankle.down },
  ].map((move) => fromRaised(move));
  const [shift, lift] = [0.8, 0.5];
  const half = shift + lift + moves.length * EACH + lift + shift;
  return {
    name: 'Legs, full range',
    seconds: half * 2,
    at: (t) => {
      const side: Side = t < half ? 'left' : 'right';
      const local = t < half ? t : t - half;
      const over = between(local, 0, shift) - between(local, half - shift, half);
      const up = between(local, shift, shift + lift) - between(local, half - shift - lift, half - shift);
      const away = side === 'left' ? -1 : 1;
      const change = row(local - shift - lift, moves);
      const angles = Object.fromEntries(
        Object.entries(RAISED).map(([key, value]) => [key, value + (change[key as keyof LegAngles] ?? 0)]),
      ) as unknown as LegAngles;
      const foot = FEET[side];
      const arm: ArmPose = { ...HANGING, abduct: 9 + 22 * up, elbow: 14 + 10 * up };
      return balanced(
        {
          ...AT_EASE,
          pelvis: { bend: (change.flex ?? 0) * -0.06, lean: away * -2 * up, turn: 0 },
          trunk: { bend: (change.flex ?? 0) * 0.1, lean: 0, turn: 0 },
          arms: { left: arm, right: arm },
          legs: {
            ...FEET,
            [side]: {
              ...foot,
              ankle: [foot.ankle[0], foot.ankle[1] + 0.06 * up, foot.ankle[2]],
              freed: { angles, share: up },
            },
          },
        },
        [away * 0.085 * over, 0.04],
      );
    },
    contacts: [
      { part: 'leftFoot', from: 0, to: shift },
      { part: 'leftFoot', from: half - shift, to: half * 2 },
      { part: 'rightFoot', from: 0, to: half + shift },
      { part: 'rightFoot', from: half * 2 - shift, to: half * 2 },
    ],
    loops: true,
    travel: [],
    remarks: [],
  };
}

/** A leg held off the floor, from which its movements start. */
const RAISED: LegAngles = { flex: 40, abduct: 0, inward: 0, knee: 62, ankle: 0 };
const fromRaised = (move: Partial<LegAngles>): LegAngles => ({
  flex: (move.flex ?? RAISED.flex) - RAISED.flex,
  abduct: move.abduct ?? 0,
  inward: move.inward ?? 0,
  knee: (move.knee ?? RAISED.knee) - RAISED.knee,
  ankle: move.ankle ?? 0,
});

/** Every joint of every finger of both hands, finger by finger, then all together; hands held before the body. */
export function fingerRange(): HouseMotion {
  const { finger, thumb } = JOINT_RANGES;
  const bend = (digit: Digit, at: number, degrees: number): Record<string, number> => ({ [`${digit}${at}`]: degrees });
  const moves: Record<string, number>[] = [
    ...DIGITS.flatMap((digit) =>
      digit === 'Thumb'
        ? [
            { ...bend(digit, 0, 40) },
            { ...bend(digit, 0, 20), ...bend(digit, 1, thumb.knuckle) },
            bend(digit, 2, thumb.end),
          ]
        : [bend(digit, 0, finger.knuckle), { ...bend(digit, 1, finger.middle), ...bend(digit, 2, finger.end) }],
    ),
    { spread: 14 },
    Object.assign(
      {},
      ...DIGITS.map((digit) => ({
        ...bend(digit, 0, digit === 'Thumb' ? 25 : 80),
        ...bend(digit, 1, digit === 'Thumb' ? 40 : 90),
        ...bend(digit, 2, 60),
      })),
    ) as Record<string, number>,
  ];
  const raise = 0.8;
  const seconds = raise * 2 + moves.length * EACH;
  return standing('Fingers, full range', seconds, (t) => {
    const up = between(t, 0, raise) - between(t, seconds - raise, seconds);
    const bends = row(t - raise, moves);
    const curl = Object.fromEntries(
      DIGITS.map((digit) => [
        digit,
        [0, 1, 2].map((at) => (1 - up) * HANGING.fingers.curl[digit][at] + (bends[`${digit}${at}`] ?? 0)),
      ]),
    ) as unknown as FingerPose['curl'];
    const arm: ArmPose = {
      ...HANGING,
      flex: 2 + 22 * up,
      abduct: 9 + 4 * up,
      elbow: 14 + 86 * up,
      // Palms up, so that the fingers are seen to close.
      pronate: 10 - 70 * up,
      fingers: { curl, spread: bends.spread ?? 0 },
    };
    return { ...AT_EASE, arms: { left: arm, right: arm } };
  });
}
