import { SIDES, roleOf } from '../definition/definition';
import { distance, subtract, type Vec3 } from '../math/vec3';
import type { CarryPlan } from '../motion/carry-plan';
import type { Motion, ContactPart } from '../motion/motion';
import { HOUSE_PLACES, LEG, SOLE } from '../house/house-body';
import type { SolePoint, Soles } from './sole-points';

/** A leg or an arm that can be led to a place. */
export interface Limb {
  readonly part: ContactPart;
  readonly upper: number;
  readonly lower: number;
  readonly end: number;
  /** What bears, fixed to bones at or below the end. */
  readonly points: readonly SolePoint[];
  /** Axis of the fold in the reference posture, body frame, unit. */
  readonly hinge: Vec3;
}

const PARTS = { Foot: ['UpperLeg', 'LowerLeg', 'Foot'], Hand: ['UpperArm', 'LowerArm', 'Hand'] } as const;

/** Limbs of a character whose three bones are mapped, driven and hang on each other. */
export function limbsOf(plan: CarryPlan, soles: Soles): Limb[] {
  const { target, driven, loose } = plan;
  const { roleBones, rig, definition } = target;
  const known = new Set(driven.map(({ boneIndex }) => boneIndex));
  const hangsOn = (bone: number, above: number): boolean => {
    const carrierOf = (at: number): number => loose.get(at) ?? rig.bones[at].parent;
    for (let at = carrierOf(bone); at >= 0; at = carrierOf(at)) if (at === above) return true;
    return false;
  };
  return SIDES.flatMap((side) =>
    (['Foot', 'Hand'] as const).flatMap((end): Limb[] => {
      const roles = PARTS[end].map((part) => side + part);
      const bones = roles.flatMap((role) => roleBones.get(role) ?? []);
      const [upper, lower, last] = bones;
      const isWhole = bones.length === 3 && bones.every((bone) => known.has(bone));
      const hinge = roleOf(definition, roles[1]).hinge;
      if (!isWhole || !hinge || !hangsOn(lower, upper) || !hangsOn(last, lower)) return [];
      const points = end === 'Foot' ? (soles.points[side] ?? []) : [soles.palms[side] ?? []].flat();
      return points.length === 0 ? [] : [{ part: `${side}${end}`, upper, lower, end: last, points, hinge }];
    }),
  );
}

/**
 * How unlike the legs of a character are to those that a motion was made for: the largest difference of thigh, shin and
 * foot to the source's, and of where heel, ball and hip joints stand to a person's, as shares of the leg. 0 for bodies
 * that are scaled copies. A source's own soles are not known.
 */
export function unlikeness({ limbs }: Motion, { target, standing }: CarryPlan, soles: Soles, leg: number): number {
  const own = (role: string, above: string): number => {
    const [from, to] = [target.roleBones.get(above), target.roleBones.get(role)];
    return from === undefined || to === undefined ? NaN : distance(standing.places[from], standing.places[to]) / leg;
  };
  const differences = SIDES.flatMap((side) =>
    (
      [
        ['LowerLeg', 'UpperLeg'],
        ['Foot', 'LowerLeg'],
        ['Toes', 'Foot'],
      ] as const
    ).map(([role, above]) => Math.abs(own(side + role, side + above) - (limbs[side + role] ?? NaN))),
  );
  const offsets = SIDES.flatMap((side) =>
    (soles.points[side] ?? []).flatMap(({ kind, standing: place }) => {
      const ankle = target.roleBones.get(`${side}Foot`);
      const usual = kind === 'heel' ? SOLE.heel : kind === 'ball' ? SOLE.ball : null;
      if (ankle === undefined || !usual) return [];
      const [, y, z] = subtract(place, standing.places[ankle]);
      // How far heel and ball are ahead says nothing where the foot is turned out; how far down does.
      return [Math.abs(y / leg - usual[1] / LEG), Math.abs(z / leg - usual[2] / LEG) / 2];
    }),
  );
  const thighs = SIDES.flatMap((side) => target.roleBones.get(`${side}UpperLeg`) ?? []);
  const aside = thighs.length === 2 ? distance(standing.places[thighs[0]], standing.places[thighs[1]]) / 2 / leg : NaN;
  const width = Math.abs(aside - Math.abs(HOUSE_PLACES.leftUpperLeg[0]) / LEG);
  return Math.max(0, ...offsets, ...[width, ...differences].filter((difference) => !Number.isNaN(difference)));
}

/**
 * How much of a person's foot roll a foot can take: one that stands many times as high above the floor, as on stilts, swings
 * its sole as many times as far. 1 for people's feet.
 */
export function rollShare(plan: CarryPlan, { end, points }: Limb, leg: number): number {
  const ankle = plan.standing.places[end][1];
  const high = (ankle - Math.min(...points.map(({ standing }) => standing[1]))) / leg;
  const usual = -SOLE.heel[1] / LEG;
  return high > MOST_USUAL * usual ? Math.max(LEAST_ROLL, usual / high) : 1;
}

/** Boots and paws are up to so many times as high as a person's foot. */
const MOST_USUAL = 2.5;
const LEAST_ROLL = 0.1;

/** Up to here legs are alike: turned alike they stand alike, to within a sole's tolerance. */
export const ALIKE = 0.03;
