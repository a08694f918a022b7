import { SIDES, type Side } from '../definition/definition';
import type { Vec3 } from '../math/vec3';
import { along, between, ease, hermite, hill, keyed, mix, wave } from './curves';
import { SOLE } from './house-body';
import type { HouseMotion } from './house-motion';
import { balanced, flatFoot, plantedFoot, rolledFoot, STANDING, type Plant } from './planted-feet';
import { AT_EASE } from './ranges';
import { HANGING, type ArmPose, type LegPose, type Stance } from './stance';

const still = (name: string, seconds: number, at: (t: number) => Stance): HouseMotion => ({
  name,
  seconds,
  at,
  contacts: [
    { part: 'leftFoot', from: 0, to: seconds },
    { part: 'rightFoot', from: 0, to: seconds },
  ],
  loops: true,
  travel: [],
  remarks: [],
});

const both = <T>(each: (side: Side, sign: 1 | -1) => T): { readonly left: T; readonly right: T } => ({
  left: each('left', 1),
  right: each('right', -1),
});

/** Stands, breathes, shifts the weight from foot to foot and looks about. */
export function idle(): HouseMotion {
  const seconds = 8;
  return still('Idle', seconds, (t) => {
    const c = t / seconds;
    // Breath goes twice a round, weight once; what hangs on the trunk follows a little later.
    const breath = wave(2 * c);
    const weight = wave(c - 0.1);
    const arms = both((_, sign): ArmPose => ({
      ...HANGING,
      flex: 3 + 1.2 * wave(2 * c - 0.08) + 1.5 * sign * wave(c - 0.2),
      abduct: 10 + 0.8 * wave(2 * c - 0.06),
      elbow: 16 + 2 * wave(c - 0.25),
      shrug: 0.8 * breath,
      wrist: 5 + 1.5 * wave(2 * c - 0.2),
    }));
    return balanced(
      {
        ...AT_EASE,
        hips: [0, STANDING[1] - 0.01, 0],
        pelvis: { bend: 0, lean: -2.2 * weight, turn: 2 * weight },
        trunk: { bend: 1 - 1.2 * breath, lean: 2.6 * weight, turn: -3 * weight },
        head: { bend: 1.5 * wave(2 * c - 0.15), lean: 0.8 * weight, turn: 9 * wave(c - 0.35) },
        arms,
      },
      [0.03 * weight, 0.045],
    );
  });
}

/** Down onto the heels' level, a look to both sides, and up again. */
export function crouch(): HouseMotion {
  const seconds = 4.4;
  return still('Crouch', seconds, (t) => {
    const down = between(t, 0.1, 1.3) - between(t, 3, 4.3);
    const look = between(t, 1.3, 1.8) - 2 * between(t, 1.9, 2.6) + between(t, 2.6, 3.1);
    const arm: ArmPose = {
      ...HANGING,
      flex: 2 + 48 * down,
      elbow: 14 + 40 * down,
      abduct: 9 + 6 * down,
      pronate: 10 + 20 * down,
    };
    return balanced(
      {
        ...AT_EASE,
        hips: [0, STANDING[1] - 0.01 - 0.42 * down, 0],
        pelvis: { bend: 22 * down, lean: 0, turn: 0 },
        trunk: { bend: 22 * down, lean: 0, turn: 6 * look },
        head: { bend: 12 * down, lean: 0, turn: 38 * look },
        arms: { left: arm, right: arm },
        legs: both((_, sign) => flatFoot([0.13 * sign, 0, 0], 14 * sign)),
      },
      [0, 0.05],
    );
  });
}

/** Sits down on a seat of 46 cm, stays, and stands up; the feet stay where they are. */
export function sitAndStand(): HouseMotion {
  const seconds = 5;
  // The joints of the hips lie about 10 cm above what is sat on.
  const seat = { height: 0.46 + 0.1, back: -0.4 };
  return still('Sit and stand', seconds, (t) => {
    const down = between(t, 0.3, 1.7) - between(t, 3.2, 4.6);
    // The trunk goes ahead on the way, and comes back.
    const lean = hill((t - 0.2) / 1.7) + hill((t - 3.1) / 1.7);
    const arm: ArmPose = {
      ...HANGING,
      flex: 2 + 26 * down + 14 * lean,
      elbow: 14 + 52 * down,
      pronate: 10 + 50 * down,
      abduct: 9 + 3 * down,
    };
    const stance: Stance = {
      ...AT_EASE,
      hips: [0, mix(STANDING[1] - 0.01, seat.height + 0.02, down), mix(0, seat.back, down)],
      pelvis: { bend: 26 * lean - 6 * down, lean: 0, turn: 0 },
      trunk: { bend: 20 * lean + 4 * down, lean: 0, turn: 0 },
      head: { bend: 8 * lean, lean: 0, turn: 0 },
      arms: { left: arm, right: arm },
      legs: both((_, sign) => flatFoot([0.12 * sign, 0, 0], 7 * sign)),
    };
    // On its feet the body is in balance; on the seat it need not be.
    const free = balanced(stance, [0, 0.045]);
    const share = ease(down * 1.1);
    return {
      ...stance,
      hips: along(free.hips, [0, Math.min(stance.hips[1], free.hips[1] + 0.4), stance.hips[2]], share),
    };
  });
}

/** Leans and reaches: high with the left hand, low across with the right, then out to both sides. */
export function leanAndReach(): HouseMotion {
  const reaches: readonly {
    side: Side;
    place: Vec3;
    bend: number;
    lean: number;
    turn: number;
    over: [number, number];
    drop: number;
  }[] = [
    { side: 'left', place: [0.24, 1.98, 0.2], bend: -4, lean: -8, turn: -10, over: [0.05, 0.07], drop: 0 },
    { side: 'right', place: [0.1, 0.5, 0.5], bend: 38, lean: 6, turn: 18, over: [0.02, 0.08], drop: 0.14 },
    { side: 'left', place: [0.92, 1.1, 0.15], bend: 4, lean: 16, turn: 10, over: [0.09, 0.05], drop: 0.04 },
    { side: 'right', place: [-0.6, 1.35, 0.55], bend: 12, lean: -4, turn: 14, over: [-0.05, 0.09], drop: 0.02 },
  ];
  const each = 2;
  return still('Lean and reach', reaches.length * each, (t) => {
    const shares = reaches.map(
      (_, at) => between(t, at * each, at * each + 0.9) - between(t, at * each + 1.1, at * each + 2),
    );
    const total = (of: (reach: (typeof reaches)[number]) => number): number =>
      reaches.reduce((sum, reach, at) => sum + of(reach) * shares[at], 0);
    const arms = both((side, sign): ArmPose => {
      const at = shares.findIndex((share, which) => share > 0 && reaches[which].side === side);
      const other: ArmPose = { ...HANGING, abduct: 9 + 10 * total(() => 1) };
      if (at < 0) return other;
      const place = reaches[at].place;
      return {
        ...HANGING,
        pronate: 10 + 30 * shares[at],
        reach: { place, share: shares[at], elbow: [0.4 * sign, -0.7, -0.5] },
      };
    });
    const turn = total((reach) => reach.turn);
    return balanced(
      {
        ...AT_EASE,
        hips: [0, STANDING[1] - 0.01 - total((reach) => reach.drop), 0],
        pelvis: {
          bend: total((reach) => reach.bend) * 0.3,
          lean: total((reach) => reach.lean) * 0.2,
          turn: turn * 0.25,
        },
        trunk: {
          bend: total((reach) => reach.bend) * 0.7,
          lean: total((reach) => reach.lean) * 0.8,
          turn: turn * 0.75,
        },
        head: { bend: total((reach) => reach.bend) * 0.5, lean: total((reach) => reach.lean) * 0.3, turn: turn },
        arms,
        legs: both((_, sign) => flatFoot([0.14 * sign, 0, 0.01 * sign], 8 * sign)),
      },
      [total((reach) => reach.over[0]), 0.045 + total((reach) => reach.over[1] - 0.045)],
    );
  });
}

/** Turns half round on the spot in short steps. */
export function turnOnSpot(side: Side): HouseMotion {
  const sign = side === 'left' ? 1 : -1;
  const [seconds, steps, first, pace] = [3.4, 6, 0.3, 0.44];
  const heading = (t: number): number => 180 * sign * between(t, 0.25, 3.1);
  const spot = (foot: 1 | -1, degrees: number): Vec3 => {
    const turned = (degrees * Math.PI) / 180;
    return [foot * 0.1 * Math.cos(turned), 0, -foot * 0.1 * Math.sin(turned)];
  };
  // The foot on the side that is turned to goes first; each lands where the body will face in the middle of its stand.
  const plants = both((_, foot): Plant[] => {
    const lead = foot === sign ? 0 : 1;
    const list: Plant[] = [{ from: 0, to: first + lead * pace, spot: spot(foot, 0), yaw: 6 * foot }];
    for (let step = lead; step < steps; step += 2) {
      const from = first + step * pace + pace * 0.9;
      const isLast = step + 2 >= steps;
      const to = isLast ? seconds : first + (step + 2) * pace;
      const degrees = isLast ? 180 * sign : heading((from + to) / 2 + 0.1);
      list.push({ from, to, spot: spot(foot, degrees), yaw: degrees + 6 * foot });
    }
    return list;
  });
  const feet = (t: number) => both((which) => plantedFoot(plants[which], t, 0.05));
  // The weight is over the foot that stays.
  const sway = (t: number): number => {
    let over = 0;
    for (let step = 0; step < steps; step++) {
      const foot = step % 2 === 0 ? sign : -sign;
      over -= foot * hill((t - (first + step * pace) + pace * 0.3) / (pace * 1.5));
    }
    return over;
  };
  return {
    ...still(`Turn ${side} on the spot`, seconds, (t) => {
      const facing = heading(t);
      const ahead = heading(t + 0.12) - facing;
      const turned = (facing * Math.PI) / 180;
      const over = 0.05 * sway(t);
      const swing = sway(t - 0.08);
      return balanced(
        {
          ...AT_EASE,
          hips: [0, STANDING[1] - 0.02, 0],
          heading: facing,
          pelvis: { bend: 1, lean: -1.5 * sway(t), turn: -ahead * 0.2 },
          trunk: { bend: 2, lean: 1.5 * sway(t), turn: ahead * 0.35 },
          // The head leads.
          head: { bend: 2, lean: 0, turn: ahead * 0.9 },
          arms: both((_, foot): ArmPose => ({
            ...HANGING,
            flex: 3 + 6 * foot * swing,
            abduct: 10 + Math.abs(ahead) * 0.15,
            elbow: 18 + 3 * foot * swing,
          })),
          legs: feet(t),
        },
        [over * Math.cos(turned) + 0.04 * Math.sin(turned), -over * Math.sin(turned) + 0.04 * Math.cos(turned)],
      );
    }),
    contacts: SIDES.flatMap((which) =>
      plants[which].map(({ from, to }) => ({ part: `${which}Foot` as const, from, to })),
    ),
    travel: ['turn'],
  };
}

const GRAVITY = 9.81;
/** How long what a leg does on leaving the floor goes on, seconds. */
const FADE = 0.045;
const fading = (t: number): number => FADE * (1 - Math.exp(-t / FADE));

/** Crouches, jumps ahead over 1.2 m with both feet, lands and stands up. */
export function travellingJump(): HouseMotion {
  const length = 1.2;
  // Off the floor, in the air, and back on it; seconds.
  const [dip, off, flight] = [0.75, 1.05, 0.42];
  const land = off + flight;
  const seconds = land + 1.35;
  const rest = STANDING[1] - 0.01;
  const [low, leave, touch, sink] = [rest - 0.3, rest - 0.02, rest - 0.11, rest - 0.3];
  // In the air nothing but gravity acts: the speeds on leaving and on touching follow from the two heights.
  const up = (touch - leave + (GRAVITY * flight * flight) / 2) / flight;
  const downAtTouch = up - GRAVITY * flight;
  const pace = (length - 0.42) / flight;
  const height = (t: number): number => {
    if (t < 0.1) return rest;
    if (t < dip) return mix(rest, low, between(t, 0.1, dip));
    if (t < off) return hermite(low, 0, leave, up * (off - dip), (t - dip) / (off - dip));
    if (t < land) return leave + up * (t - off) - (GRAVITY * (t - off) ** 2) / 2;
    if (t < land + 0.3) return hermite(touch, downAtTouch * 0.3, sink, 0, (t - land) / 0.3);
    return mix(sink, rest, between(t, land + 0.3, seconds - 0.15));
  };
  const ahead = (t: number): number => {
    if (t < 0.1) return 0;
    if (t < dip) return mix(0, -0.06, between(t, 0.1, dip));
    if (t < off) return hermite(-0.06, 0, 0.24, pace * (off - dip), (t - dip) / (off - dip));
    if (t < land) return 0.24 + pace * (t - off);
    const touched = 0.24 + pace * flight;
    if (t < land + 0.3) return hermite(touched, pace * 0.3, length - 0.03, 0.1 * 0.3, (t - land) / 0.3);
    return hermite(
      length - 0.03,
      0.1 * (seconds - 0.15 - land - 0.3),
      length,
      0,
      Math.min(1, (t - land - 0.3) / (seconds - 0.15 - land - 0.3)),
    );
  };
  const roll = 0.26;
  const feet = (t: number) =>
    both((_, sign): LegPose => {
      const from: Vec3 = [0.11 * sign, 0, 0];
      const to: Vec3 = [0.11 * sign, 0, length];
      const yaw = 6 * sign;
      const lifting = (s: number) =>
        rolledFoot(from, yaw, 58 * Math.max(0, (s - off + roll) / roll) ** 2, SOLE.toeJoint);
      const landing = (s: number) => {
        const left = Math.max(0, 1 - (s - land) / 0.12);
        return rolledFoot(to, yaw, -12 * left * left, SOLE.heel, -12 * left * left);
      };
      if (t <= off) return lifting(t);
      if (t >= land) return landing(t);
      const x = (t - off) / flight;
      const [a, b] = [lifting(off), landing(land)];
      const [leaving, landed] = [against(lifting, off, -1), against(landing, land, 1)];
      const place = [0, 1, 2].map((k) => {
        const from = leaving.place[k] + leaving.speed[k] * fading(t - off);
        const to = landed.place[k] - landed.speed[k] * fading(land - t);
        return [0, height(t), ahead(t)][k] + mix(from, to, ease(x)) + (k === 1 ? 0.1 * hill(x, 0.45) : 0);
      }) as unknown as Vec3;
      const pitch = hermite(a.pitch, leaving.pitchRate * flight, b.pitch, landed.pitchRate * flight, x);
      return { ...a, ankle: place, pitch, toePitch: pitch * ease(x * 1.6) };
    });
  // A foot against the hips, and how fast it goes there: legs draw in within a few hundredths of a second.
  const against = (foot: (s: number) => LegPose, t: number, way: 1 | -1) => {
    const step = 1e-4 * way;
    const [now, next] = [foot(t), foot(t + step)];
    const rel = ({ ankle }: LegPose, s: number): number[] => [ankle[0], ankle[1] - height(s), ankle[2] - ahead(s)];
    const place = rel(now, t);
    return {
      place,
      speed: rel(next, t + step).map((value, k) => (value - place[k]) / step),
      pitchRate: (next.pitch - now.pitch) / step,
    };
  };
  return {
    name: 'Jump ahead',
    seconds,
    at: (t) => {
      const wind = keyed(
        [
          [0.1, 0],
          [dip - 0.05, 1],
          [off + 0.12, -2.2],
          [land + 0.05, -1.1],
          [land + 0.35, -0.5],
          [seconds - 0.2, 0],
        ],
        t,
      );
      const bend = keyed(
        [
          [0.1, 0],
          [dip, 1],
          [off, 0.05],
          [land - 0.12, 0.35],
          [land + 0.3, 1],
          [seconds - 0.2, 0],
        ],
        t,
      );
      const away = Math.hypot(wind, 0.5) - 0.5;
      const arm: ArmPose = {
        ...HANGING,
        flex: 2 - 48 * wind,
        elbow: 16 + 18 * away,
        abduct: 10 + 4 * away,
      };
      return {
        ...AT_EASE,
        hips: [0, height(t), ahead(t)],
        pelvis: { bend: 24 * bend, lean: 0, turn: 0 },
        trunk: { bend: 16 * bend, lean: 0, turn: 0 },
        head: { bend: 6 * bend, lean: 0, turn: 0 },
        arms: { left: arm, right: arm },
        legs: feet(t),
      };
    },
    contacts: SIDES.flatMap((side) => [
      { part: `${side}Foot` as const, from: 0, to: off },
      { part: `${side}Foot` as const, from: land, to: seconds },
    ]),
    loops: true,
    travel: ['horizontal', 'vertical'],
    remarks: [],
  };
}
