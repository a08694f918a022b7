import type { Vec3 } from '@/core/math/vec3';
import { Poser, type Moment } from './poser';

type Places = Readonly<Record<string, Vec3>>;

/** What somebody does, second by second. */
export interface Performance {
  readonly seconds: number;
  readonly at: (places: Places, t: number) => Moment;
}

const wave = (t: number, seconds: number, shift = 0): number => Math.sin((t / seconds + shift) * 2 * Math.PI);
const ease = (x: number): number => {
  const held = Math.max(0, Math.min(1, x));
  return held * held * (3 - 2 * held);
};
const between = (t: number, from: number, to: number): number => ease((t - from) / (to - from));
const SIDES = ['left', 'right'] as const;

interface Step {
  readonly seconds: number;
  readonly stride: number;
}

/** Where a foot of a walk is against the body that goes on: on the floor for three fifths of a step, then through the air. */
function walkingFoot(phase: number, { stride }: Step): { ahead: number; up: number; pitch: number } {
  const at = phase - Math.floor(phase);
  if (at < 0.6) {
    const share = at / 0.6;
    return {
      ahead: stride * 0.6 * (0.5 - share),
      up: 0.02 * ease((share - 0.75) * 4),
      pitch: share > 0.75 ? 25 * (share - 0.75) * 4 : share < 0.12 ? -12 * (1 - share / 0.12) : 0,
    };
  }
  const share = (at - 0.6) / 0.4;
  return {
    ahead: stride * 0.6 * (ease(share) - 0.5),
    up: 0.02 * (1 - share) + 0.1 * Math.sin(share * Math.PI),
    pitch: 25 * (1 - ease(share * 1.4)) - 12 * ease((share - 0.5) * 2),
  };
}

/** With a lantern in the raised left hand, round the end of the quay. */
export const LANTERN_ROUND: Performance = {
  seconds: 5.2,
  at: (places, t) => {
    const step: Step = { seconds: 1.3, stride: 1.15 };
    const heading = 150 * between(t, 0.6, 4.8);
    const turned = (heading * Math.PI) / 180;
    // Forward along the heading, summed up in small steps so that feet and body agree.
    const place = along(t, (s) => 150 * between(s, 0.6, 4.8), step.stride / step.seconds);
    const poser = new Poser(
      places,
      [
        place[0] + 0.02 * wave(t, step.seconds) * Math.cos(turned),
        places.hips[1] - 0.045 + 0.018 * wave(t, step.seconds / 2, 0.1),
        place[2],
      ],
      heading,
      { tilt: 3 * wave(t, step.seconds, 0.05), twist: 5 * wave(t, step.seconds, 0.25) },
    );
    poser.back({ lean: 4, twist: -9 * wave(t, step.seconds, 0.25), tilt: -2 * wave(t, step.seconds) });
    poser.look(18 * wave(t, 2.6), 6);
    for (const side of SIDES) {
      const { ahead, up, pitch } = walkingFoot(t / step.seconds + (side === 'left' ? 0 : 0.5), step);
      const ankle = places[`${side}Foot`];
      poser.leg(
        side,
        [
          place[0] + Math.cos(turned) * ankle[0] + Math.sin(turned) * ahead,
          ankle[1] + up,
          place[2] - Math.sin(turned) * ankle[0] + Math.cos(turned) * ahead,
        ],
        pitch,
        Math.max(0, pitch),
      );
    }
    poser.arm('left', { down: 30, swing: 62, elbow: 70, wrist: -10 }).fist('left', 95);
    poser.arm('right', { down: 78, swing: 20 * wave(t, step.seconds, 0.25), elbow: 22 }).fist('right', 35);
    return poser.moment();
  },
};

/** A place reached along a heading that changes. */
function along(t: number, heading: (s: number) => number, speed: number): [number, number, number] {
  const count = 60;
  const out: [number, number, number] = [0, 0, 0];
  for (let at = 0; at < count; at++) {
    const turned = (heading(((at + 0.5) / count) * t) * Math.PI) / 180;
    out[0] += (Math.sin(turned) * speed * t) / count;
    out[2] += (Math.cos(turned) * speed * t) / count;
  }
  return out;
}

/** Both feet planted wide, hand over hand on a wet rope, the weight behind it. */
export const NET_HAUL: Performance = {
  seconds: 4.8,
  at: (places, t) => {
    const pull = 0.5 - 0.5 * Math.cos((t / 1.6) * 2 * Math.PI);
    const poser = new Poser(places, [0.01 * wave(t, 3.2), places.hips[1] - 0.13 - 0.06 * pull, -0.06 - 0.1 * pull], 0, {
      lean: 6 - 6 * pull,
      twist: 12 * wave(t, 3.2),
    });
    poser.back({ lean: 22 - 34 * pull, twist: 16 * wave(t, 3.2), tilt: 4 * wave(t, 3.2) }).look(4 * wave(t, 3.2), 14);
    for (const side of SIDES) {
      const ankle = places[`${side}Foot`];
      poser.leg(side, [ankle[0] * 1.9, ankle[1], side === 'left' ? 0.22 : -0.2]);
      const own = side === 'left' ? pull : 1 - pull;
      poser
        .arm(side, { down: 70, swing: 74 - 30 * own, elbow: 20 + 78 * own, wrist: 12 })
        .fist(side, 60 + 40 * (1 - own));
    }
    return poser.moment();
  },
};

/** Ringing the tide bell: the whole back goes along, from the heels to the head. */
export const TIDE_BELL: Performance = {
  seconds: 4,
  at: (places, t) => {
    const down = 0.5 - 0.5 * Math.cos((t / 2) * 2 * Math.PI);
    const poser = new Poser(places, [0, places.hips[1] - 0.015 - 0.13 * down, -0.02 - 0.05 * down], 0, {
      lean: 10 * down,
    });
    poser.back({ lean: -14 + 58 * down, twist: 10 * wave(t, 4), tilt: 6 * wave(t, 4, 0.25) }).look(0, -30 + 48 * down);
    for (const side of SIDES) {
      const ankle = places[`${side}Foot`];
      poser.leg(side, [ankle[0] * 1.4, ankle[1], side === 'left' ? 0.05 : -0.04]);
      poser.arm(side, { down: -50 + 105 * down, swing: 38, elbow: 24 + 40 * down }).fist(side, 100);
    }
    return poser.moment();
  },
};

/** A stall keeper who beckons, and who weighs up a basket. */
export const BECKON: Performance = {
  seconds: 3,
  at: (places, t) => {
    const poser = new Poser(places, [0.03 * wave(t, 3), places.hips[1] - 0.012, 0.01 * wave(t, 3, 0.25)], 0, {
      tilt: 2 * wave(t, 3),
      twist: 6 * wave(t, 3),
    });
    poser.back({ lean: 3, twist: 8 * wave(t, 3), tilt: -3 * wave(t, 3) }).look(12 * wave(t, 3), -3);
    for (const side of SIDES)
      poser.leg(side, [places[`${side}Foot`][0] * 1.15, places[`${side}Foot`][1], side === 'left' ? 0.03 : -0.03]);
    poser
      .arm('right', { down: 35, swing: 55, elbow: 95 + 25 * wave(t, 0.75), wrist: 15 * wave(t, 0.75) })
      .fist('right', 50 + 45 * wave(t, 0.75));
    poser.arm('left', { down: 80, swing: 4 * wave(t, 3), elbow: 18 }).fist('left', 25);
    return poser.moment();
  },
};

export const WEIGH_BASKET: Performance = {
  seconds: 2.4,
  at: (places, t) => {
    const lift = 0.5 - 0.5 * Math.cos((t / 1.2) * 2 * Math.PI);
    const poser = new Poser(places, [0.05 * wave(t, 2.4), places.hips[1] - 0.05 + 0.03 * lift, 0], 0, {
      tilt: 4 * wave(t, 2.4),
      lean: 4,
    });
    poser.back({ lean: 10 - 8 * lift, twist: 5 * wave(t, 2.4), tilt: -5 * wave(t, 2.4) }).look(6 * wave(t, 2.4), 22);
    for (const side of SIDES) {
      poser.leg(side, [places[`${side}Foot`][0] * 1.5, places[`${side}Foot`][1], 0.02]);
      poser.arm(side, { down: 74, swing: 22 + 14 * lift, elbow: 72 + 18 * lift, wrist: -8 }).fist(side, 70);
    }
    return poser.moment();
  },
};

/** From boat to boat: crouch, leap, land, stand. */
export const LEAP: Performance = {
  seconds: 2.6,
  at: (places, t) => {
    const crouch = between(t, 0.2, 0.7) * (1 - between(t, 0.75, 0.95));
    const landing = between(t, 1.42, 1.6) * (1 - between(t, 1.65, 2.3));
    const air = Math.max(0, Math.min(1, (t - 0.95) / 0.5));
    const height = 4 * 0.42 * air * (1 - air);
    const gone = 1.5 * ease((t - 0.8) / 0.75);
    const bend = 0.3 * crouch + 0.26 * landing;
    const hips: Vec3 = [0, places.hips[1] - 0.01 - bend + height, gone];
    const poser = new Poser(places, hips, 0, { lean: 24 * crouch + 14 * landing });
    poser.back({ lean: 26 * crouch + 22 * landing - 6 * air * (1 - air) * 4, twist: 0, tilt: 0 }).look(0, 10 * crouch);
    for (const side of SIDES) {
      const ankle = places[`${side}Foot`];
      const isOff = air > 0 && air < 1;
      // Feet stay until the leap, are drawn up in the air, and reach ahead to land.
      const feet = isOff ? gone + 0.12 * Math.sin(air * Math.PI * 2 - Math.PI / 2) * air : air >= 1 ? 1.5 : 0;
      const lift = isOff ? height + 0.12 * Math.sin(air * Math.PI) : 0;
      const pitch = isOff ? 40 * (1 - ease(air * 1.8)) - 8 * air : 30 * between(t, 0.82, 0.95) * (air > 0 ? 0 : 1);
      poser.leg(side, [ankle[0] * 1.1, ankle[1] + lift, feet], pitch, Math.max(0, pitch) * 0.6);
      const back = -50 * crouch + 70 * between(t, 0.75, 1.05) * (1 - between(t, 1.3, 2));
      poser.arm(side, { down: 72 - 20 * air * (1 - air) * 4, swing: back, elbow: 25 + 20 * crouch }).fist(side, 40);
    }
    return poser.moment();
  },
};
