import { fromAxisAngle, rotate } from '../math/quat';
import { add, scale, type Vec3 } from '../math/vec3';
import { along, ease, hill, mix, softLeast } from './curves';
import { HOUSE_PLACES, LEG, SOLE } from './house-body';
import { massCentre, WEIGHED_ROLES } from './mass-centre';
import { placesOf, solveBody, thighJoint } from './solve-stance';
import type { LegPose, Stance } from './stance';

const RAD = Math.PI / 180;

/** A time for which a foot stands flat; between two it goes from one to the other. */
export interface Plant {
  readonly from: number;
  readonly to: number;
  /** On the floor below the ankle. */
  readonly spot: Vec3;
  readonly yaw: number;
}

/** A foot that stands flat at places, one after another. */
export function plantedFoot(plants: readonly Plant[], t: number, lift: number): LegPose {
  const at = plants.findIndex(({ to }) => t <= to);
  const plant = plants[at < 0 ? plants.length - 1 : at];
  const before = plants[at - 1];
  if (!before || t >= plant.from) return flatFoot(plant.spot, plant.yaw);
  const x = (t - before.to) / (plant.from - before.to);
  const share = ease(x);
  const spot = along(before.spot, plant.spot, share);
  const yaw = mix(before.yaw, plant.yaw, share);
  const up = hill(x);
  const foot = rolledFoot(spot, yaw, 14 * hill(x, 0.35), SOLE.toeJoint);
  return { ...foot, toePitch: foot.pitch * 0.5, ankle: add(foot.ankle, [0, lift * up, 0]) };
}

/** A foot flat on the floor. */
export const flatFoot = (spot: Vec3, yaw: number): LegPose => ({
  ankle: add(spot, [0, SOLE.ankle, 0]),
  pitch: 0,
  yaw,
  toePitch: 0,
  freed: null,
});

/** A foot rolled about a point of its sole that stays where it is; heel up, degrees. */
export function rolledFoot(spot: Vec3, yaw: number, pitch: number, pivot: Vec3, toePitch = 0): LegPose {
  const turned = rotate(fromAxisAngle([1, 0, 0], pitch * RAD), scale(pivot, -1));
  const offset = rotate(fromAxisAngle([0, 1, 0], yaw * RAD), add(pivot, turned));
  return { ...flatFoot(spot, yaw), ankle: add(add(spot, [0, SOLE.ankle, 0]), offset), pitch, toePitch };
}

/** Share of a leg up to which it is stretched, and how softly it gets there. */
const REACH = 0.994;
const SOFT = 0.006;

/** The legs stay behind when the hips are shifted: the centre of mass goes so much less far. */
const HIPS_FOR_CENTRE = 1.15;
/** What is left after these is below a millimetre. */
const ROUNDS = 2;

/**
 * Shifts the hips so that the centre of mass stands over a place of the floor, and lowers them as far as the feet ask
 * for. Everything about it is smooth, so what went in smooth comes out smooth.
 */
export function balanced(stance: Stance, over: readonly [number, number]): Stance {
  let now = lowered(stance);
  for (let round = 0; round < ROUNDS; round++) {
    const centre = massCentre(placesOf(solveBody(now).turns, now.hips, WEIGHED_ROLES));
    const hips: Vec3 = [
      now.hips[0] + (over[0] - centre[0]) * HIPS_FOR_CENTRE,
      stance.hips[1],
      now.hips[2] + (over[1] - centre[2]) * HIPS_FOR_CENTRE,
    ];
    now = lowered({ ...stance, hips });
  }
  return now;
}

function lowered(stance: Stance): Stance {
  let top = stance.hips[1];
  for (const side of ['left', 'right'] as const) {
    const leg = stance.legs[side];
    const joint = thighJoint(stance, side);
    const aside = Math.hypot(joint[0] - leg.ankle[0], joint[2] - leg.ankle[2]);
    // A leg that is held by its angles asks for nothing.
    const free = leg.freed?.share ?? 0;
    const most =
      free + stance.hips[1] + leg.ankle[1] + Math.sqrt(Math.max(0, (LEG * REACH) ** 2 - aside * aside)) - joint[1];
    top = softLeast(top, most, SOFT);
  }
  return { ...stance, hips: [stance.hips[0], top, stance.hips[2]] };
}

/** Place of the hips of a figure that stands at ease. */
export const STANDING: Vec3 = HOUSE_PLACES.hips;
