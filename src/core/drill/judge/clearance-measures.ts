import { SIDES, type Side } from '../../definition/definition';
import type { Definition } from '../../definition/definition';
import { HOUSE_ROLES, LEG } from '../../house/house-body';
import { houseFrames } from '../../house/play-motion';
import { conjugate, rotate, type Quat } from '../../math/quat';
import { add, distance, distanceToSegment, lerp, subtract, type Vec3 } from '../../math/vec3';
import type { Motion } from '../../motion/motion';
import type { DrillLimits } from '../../profile/drill-limits';
import type { BodyShape, Feeler, Wall } from './body-shape';
import type { FigureTrack } from './figure-track';
import type { Measure } from './measure';
import { outsideWall } from './radial-wall';

/** Capsules that come nearer than this share of a leg are held against each other skin by skin. */
const NEAR_SHARE = 0.07;
/** The source touches where its capsules come as near as this, and no further into each other; in % of the leg. */
const TOUCH_PERCENT = [-5, 4] as const;
/** Where the source touches, cloth may go so many times as deep. */
const TOUCHING_DEPTH = 2;

export interface ClearanceInput {
  readonly shape: BodyShape;
  readonly track: Pick<FigureTrack, 'frameCount' | 'placeOf' | 'turnOf'>;
  /** Metres. */
  readonly leg: number;
  readonly limits: DrillLimits;
  /** The same on the source, by measure, in % of its leg. */
  readonly source: ReadonlyMap<string, Float64Array>;
  readonly nameOf: (bone: number) => string;
  /** One of so many frames is measured; all where left out. */
  readonly every?: number;
}

/** A pair that may meet: who, and how far apart in a frame. */
interface Pair {
  readonly name: string;
  readonly subject: string;
  readonly bones: readonly number[];
  /** Metres; negative as deep as they are in each other. */
  readonly gapAt: (frame: number) => number;
}

/**
 * Room between hand and thigh, hand and trunk, forearm and trunk, and the knees, in % of the leg; negative is inside.
 * Where the source touches there as well, only what goes deep is out of the band.
 */
export function measureClearance({ shape, track, leg, limits, source, nameOf, every = 1 }: ClearanceInput): Measure[] {
  const near = NEAR_SHARE * leg;
  const against =
    (feeler: Feeler, walls: readonly Wall[]) =>
    (frame: number): number =>
      Math.min(...walls.map((wall) => gapOf(feeler, wall, { track, frame, near })));
  const pairs: Pair[] = SIDES.flatMap((side): Pair[] => {
    const [hand, forearm] = [shape.hands[side], shape.forearms[side]];
    const thighs = Object.values(shape.thighs);
    const { trunk } = shape;
    return [
      ...(hand && thighs.length > 0
        ? [pairOf('handThigh', `${side} hand`, 'the thighs', side, hand, against(hand, thighs))]
        : []),
      ...(hand && trunk ? [pairOf('handTrunk', `${side} hand`, 'the trunk', side, hand, against(hand, [trunk]))] : []),
      ...(forearm && trunk
        ? [pairOf('armTrunk', `${side} forearm`, 'the trunk', side, forearm, against(forearm, [trunk]))]
        : []),
    ];
  });
  const knees = kneePair(shape, track);
  if (knees) pairs.push(knees);
  return pairs.map(({ name, subject, bones, gapAt }): Measure => {
    const values = Float64Array.from({ length: track.frameCount }, (_, frame) =>
      frame % every === 0 ? (gapAt(frame) / leg) * 100 : NaN,
    );
    const theirs = source.get(name);
    const touching = -limits.clearancePercent * TOUCHING_DEPTH;
    return {
      name,
      unit: '%',
      subject,
      bones: bones.map(nameOf),
      values,
      band: [-limits.clearancePercent, Infinity],
      isExcused: (frame) => {
        const its = theirs?.[frame] ?? Infinity;
        return its > TOUCH_PERCENT[0] && its < TOUCH_PERCENT[1] && values[frame] > touching;
      },
    };
  });
}

const pairOf = (
  what: string,
  who: string,
  whom: string,
  side: Side,
  { capsule }: Feeler,
  gapAt: (frame: number) => number,
): Pair => ({
  name: `${what}.${side}`,
  subject: `room between the ${who} and ${whom}`,
  bones: [capsule.from],
  gapAt,
});

function kneePair({ shins }: BodyShape, track: ClearanceInput['track']): Pair | null {
  const { left, right } = shins;
  if (!left || !right) return null;
  return {
    name: 'knees',
    subject: 'room between the knees',
    bones: [left.from, right.from],
    gapAt: (frame) =>
      distance(track.placeOf(left.from, frame), track.placeOf(right.from, frame)) - left.radius - right.radius,
  };
}

interface Moment {
  readonly track: ClearanceInput['track'];
  readonly frame: number;
  readonly near: number;
}

/** By capsules; by the skin where they are near. */
function gapOf(feeler: Feeler, wall: Wall, { track, frame, near }: Moment): number {
  const ends = (from: number, to: number): Rod => [track.placeOf(from, frame), track.placeOf(to, frame)];
  const own = ends(feeler.capsule.from, feeler.capsule.to);
  const rods = wall.segments.map((segment) => ({ segment, rod: ends(segment.from, segment.to) }));
  const rough =
    Math.min(...rods.map(({ segment, rod }) => rodDistance(own, rod) - segment.greatest)) - feeler.capsule.radius;
  if (rough > near) return rough;
  let least = Infinity;
  for (const { bone, offset } of feeler.points) {
    const place = add(track.placeOf(bone, frame), rotate(track.turnOf(bone, frame), offset));
    let [best, away] = [rods[0], Infinity];
    for (const each of rods) {
      const far = distanceToSegment(place, each.rod[0], each.rod[1]);
      if (far < away) [best, away] = [each, far];
    }
    const { segment, rod } = best;
    least = Math.min(least, outsideWall(segment, place, rod[0], track.turnOf(segment.from, frame)));
  }
  return Math.min(near, least);
}

type Rod = readonly [from: Vec3, to: Vec3];

/** Ends and middles against the whole of the other: parts of a body are short and not crossed. */
function rodDistance(a: Rod, b: Rod): number {
  let least = Infinity;
  for (const share of [0, 0.5, 1])
    least = Math.min(
      least,
      distanceToSegment(lerp(a[0], a[1], share), b[0], b[1]),
      distanceToSegment(lerp(b[0], b[1], share), a[0], a[1]),
    );
  return least;
}

/** Radii of a grown person's parts, as shares of the leg. */
const USUAL_RADII = { hand: 0.04, forearm: 0.045, thigh: 0.085, knee: 0.06 } as const;
/** The trunk is wider than deep. */
const TRUNK_RADII = { aside: 0.17, ahead: 0.115 } as const;

/** The same on the house figure, a person of usual proportions, by capsules; in % of its leg. */
export function houseClearance(motion: Motion, definition: Definition): Map<string, Float64Array> {
  const known = new Set(HOUSE_ROLES);
  const frames = houseFrames(motion, definition);
  const out = new Map<string, Float64Array>();
  const put = (name: string, frame: number, gap: number) => {
    const values = out.get(name) ?? new Float64Array(motion.frameCount);
    values[frame] = gap * 100;
    out.set(name, values);
  };
  for (let frame = 0; frame < motion.frameCount; frame++) {
    const { places, turns } = frames[frame];
    const rod = (from: string, to: string): Rod => [places[from], places[known.has(to) ? to : from]];
    const trunk = rod('hips', 'neck');
    const toTrunk = (part: Rod): number => trunkGap(part, trunk, turns.chest);
    for (const side of SIDES) {
      const hand = rod(`${side}Hand`, `${side}MiddleProximal`);
      const forearm = rod(`${side}LowerArm`, `${side}Hand`);
      const thighs = SIDES.map((each) => rodDistance(hand, rod(`${each}UpperLeg`, `${each}LowerLeg`)) / LEG);
      put(`handThigh.${side}`, frame, Math.min(...thighs) - USUAL_RADII.hand - USUAL_RADII.thigh);
      put(`handTrunk.${side}`, frame, toTrunk(hand) / LEG - USUAL_RADII.hand);
      put(`armTrunk.${side}`, frame, toTrunk(forearm) / LEG - USUAL_RADII.forearm);
    }
    put('knees', frame, distance(places.leftLowerLeg, places.rightLowerLeg) / LEG - 2 * USUAL_RADII.knee);
  }
  return out;
}

/** Room of a rod's axis to an oval trunk, metres. */
function trunkGap([from, to]: Rod, [bottom, top]: Rod, turn: Quat): number {
  let least = Infinity;
  for (const share of [0, 0.5, 1]) {
    const point = lerp(from, to, share);
    const away = distanceToSegment(point, bottom, top);
    const [x, , z] = rotate(conjugate(turn), subtract(point, bottom));
    const flat = Math.max(1e-9, Math.hypot(x, z));
    const radius = 1 / Math.hypot(x / flat / TRUNK_RADII.aside, z / flat / TRUNK_RADII.ahead);
    least = Math.min(least, away - radius * LEG);
  }
  return least;
}
