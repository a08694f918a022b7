import { roleOf, SIDES } from '../../definition/definition';
import { angleOf, conjugate, multiply, slerp, twistAngle, type Quat } from '../../math/quat';
import { distance, lengthOf, type Vec3 } from '../../math/vec3';
import { roleAbove } from '../../motion/fitted-rig';
import type { CarryPlan } from '../../motion/carry-plan';
import type { DrillLimits } from '../../profile/drill-limits';
import type { FigureTrack } from './figure-track';
import type { Measure } from './measure';

const DEGREES = 180 / Math.PI;
/** Swung further than this a segment's turn about its own length cannot be told from its swing. */
const MOST_SWING_DEG = 140;

/** Bones that the measures of joints ask for. */
export const jointBones = ({ target }: CarryPlan): number[] => [...new Set(target.roleBones.values())];

/** How knees and elbows fold, how limbs are twisted, how joints jump and how fast they turn. */
export function measureJoints(plan: CarryPlan, track: FigureTrack, limits: DrillLimits): Measure[] {
  const { target, motion } = plan;
  const { definition, roleBones, rig } = target;
  const frames = (of: (frame: number) => number): Float64Array =>
    Float64Array.from({ length: track.frameCount }, (_, frame) => of(frame));
  const boneOf = (role: string): number | undefined => roleBones.get(role);
  const labelOf = (role: string): string => roleOf(definition, role).label;
  const nameOf = (role: string): string[] => {
    const bone = boneOf(role);
    return bone === undefined ? [] : [rig.bones[bone].name];
  };
  /** Turn of one role against another, from the reference posture, in the body axes of the reference. */
  const between = (above: string, role: string) => {
    const [upper, own] = [boneOf(above) as number, boneOf(role) as number];
    return (frame: number): Quat => multiply(conjugate(track.changeOf(upper, frame)), track.changeOf(own, frame));
  };
  const has = (...roles: string[]): boolean =>
    roles.every((role) => boneOf(role) !== undefined && definition.roles.some(({ id }) => id === role));

  const folds = SIDES.flatMap((side) =>
    (
      [
        ['knee', 'UpperLeg', 'LowerLeg'],
        ['elbow', 'UpperArm', 'LowerArm'],
      ] as const
    ).flatMap(([joint, upper, lower]): Measure[] => {
      const hinge = has(side + upper, side + lower) ? roleOf(definition, side + lower).hinge : null;
      if (!hinge) return [];
      const turn = between(side + upper, side + lower);
      return [
        {
          name: `${joint}.${side}`,
          unit: '°',
          subject: `${side} ${joint}`,
          bones: nameOf(side + lower),
          values: frames((frame) => twistAngle(turn(frame), hinge) * DEGREES),
          band: [-limits.pastStraightDeg, limits.foldDeg],
        },
      ];
    }),
  );

  const twists = SIDES.flatMap((side) =>
    TWISTS.flatMap(([part, above, role, below, limit]): Measure[] => {
      const upper = above === null ? roleAbove(target, side + role) : side + above;
      if (upper === null || !has(upper, side + role)) return [];
      const axis = roleOf(definition, side + role).direction;
      if (!axis) return [];
      const turn = between(upper, side + role);
      const more = below !== null && has(side + below) ? between(side + role, side + below) : null;
      const values = unwrapped(track.frameCount, (frame) => {
        const own = turn(frame);
        if (swingOf(own, axis) > MOST_SWING_DEG) return NaN;
        return (twistAngle(own, axis) + (more ? twistAngle(more(frame), axis) : 0)) * DEGREES;
      });
      const most = limits[limit];
      return [
        {
          name: `twist.${side}${part}`,
          unit: '°',
          subject: `twist of the ${side} ${part.toLowerCase()}`,
          bones: nameOf(side + role),
          values,
          band: [-most, most],
        },
      ];
    }),
  );

  const jumps: Measure[] = [];
  const speeds: Measure[] = [];
  for (const role of SPEEDY) {
    const upper = has(role) ? (roleAbove(target, role) ?? null) : null;
    if (!has(role) || (upper !== null && !has(upper))) continue;
    const turn =
      upper === null ? (frame: number) => track.changeOf(boneOf(role) as number, frame) : between(upper, role);
    const turns = Array.from({ length: track.frameCount }, (_, frame) => turn(frame));
    const apart = (a: Quat, b: Quat): number => angleOf(multiply(conjugate(a), b)) * DEGREES;
    const last = turns.length - 1;
    const shared = { bones: nameOf(role) };
    const strays = turns.map((each, frame) =>
      frame === 0 || frame === last ? STILL : turnVector(slerp(turns[frame - 1], turns[frame + 1], 0.5), each),
    );
    jumps.push({
      name: `jump.${role}`,
      unit: '°',
      subject: `jump of the ${labelOf(role).toLowerCase()}`,
      ...shared,
      // A joint that speeds up strays from the middle as well, but alike from frame to frame.
      values: frames((frame) => {
        if (frame === 0 || frame === last) return NaN;
        const [own, ...beside] = [strays[frame], strays[frame - 1], strays[frame + 1]];
        // Of two that are unlike, the one that strays further is at fault.
        const guilty = beside.filter((other) => lengthOf(own) >= lengthOf(other) * 0.999);
        return Math.max(0, ...guilty.map((other) => distance(own, other)));
      }),
      band: [0, limits.jumpDeg * coarseness(motion.framesPerSecond)],
    });
    speeds.push({
      name: `speed.${role}`,
      unit: '°/s',
      subject: `speed of the ${labelOf(role).toLowerCase()}`,
      ...shared,
      values: frames((frame) => (frame === 0 ? NaN : apart(turns[frame - 1], turns[frame]) * motion.framesPerSecond)),
      band: [0, limits.speedDegPerSecond],
    });
  }
  return [...folds, ...twists, ...jumps, ...speeds];
}

/** Part, what it turns against (null: the role above), role, a role below whose turn adds to it, limit. */
const TWISTS: readonly (readonly [
  string,
  string | null,
  string,
  string | null,
  'upperArmTwistDeg' | 'forearmTwistDeg' | 'thighTwistDeg' | 'shinTwistDeg',
])[] = [
  ['UpperArm', null, 'UpperArm', null, 'upperArmTwistDeg'],
  ['Forearm', 'UpperArm', 'LowerArm', 'Hand', 'forearmTwistDeg'],
  ['Thigh', null, 'UpperLeg', null, 'thighTwistDeg'],
  ['Shin', 'UpperLeg', 'LowerLeg', null, 'shinTwistDeg'],
];

const SPEEDY = [
  'hips',
  'spine',
  'chest',
  'upperChest',
  'neck',
  'head',
  ...SIDES.flatMap((side) =>
    ['Shoulder', 'UpperArm', 'LowerArm', 'Hand', 'UpperLeg', 'LowerLeg', 'Foot'].map((part) => side + part),
  ),
];

/** With fewer frames a second more happens between two of them, also in a smooth motion. */
const coarseness = (framesPerSecond: number): number => Math.max(1, (60 / framesPerSecond) ** 1.2);

/** From one turn to another as axis times angle, degrees. */
function turnVector(from: Quat, to: Quat): Vec3 {
  const [x, y, z, w] = multiply(conjugate(from), to);
  const sine = Math.hypot(x, y, z);
  const share = sine < 1e-12 ? 0 : ((2 * Math.atan2(sine, Math.abs(w))) / sine) * DEGREES * (w < 0 ? -1 : 1);
  return [x * share, y * share, z * share];
}

const STILL: Vec3 = [0, 0, 0];

/** How far a turn leads an axis away from itself, degrees. */
function swingOf([x, y, z, w]: Quat, axis: Vec3): number {
  const along = x * axis[0] + y * axis[1] + z * axis[2];
  return 2 * Math.acos(Math.min(1, Math.hypot(along, w))) * DEGREES;
}

/** Angles without jumps at half turns; frames in which it cannot be told are NaN and skipped. */
function unwrapped(count: number, of: (frame: number) => number): Float64Array {
  const out = new Float64Array(count);
  let known = NaN;
  for (let frame = 0; frame < count; frame++) {
    const angle = of(frame);
    out[frame] = Number.isNaN(known) || Number.isNaN(angle) ? angle : angle - 360 * Math.round((angle - known) / 360);
    if (!Number.isNaN(out[frame])) known = out[frame];
  }
  return out;
}
