import { ARM_PARTS, LEG_PARTS, roleOf, SIDES } from '../../definition/definition';
import { rotate } from '../../math/quat';
import { angleBetween, subtract } from '../../math/vec3';
import type { CarryPlan } from '../../motion/carry-plan';
import { roleAbove } from '../../motion/fitted-rig';
import type { DrillLimits } from '../../profile/drill-limits';
import type { FigureTrack } from './figure-track';
import type { Measure } from './measure';

/** Segments whose far end must go where they point: role, and the role at their end. */
const SEGMENTS: readonly (readonly [string, string])[] = [
  ['UpperArm', 'LowerArm'],
  ['LowerArm', 'Hand'],
  ['UpperLeg', 'LowerLeg'],
  ['LowerLeg', 'Foot'],
];

/**
 * The bone of the file that carries the end of a segment in place of the mapped one: it hangs on the same upper bone and
 * stands for nothing. Null where the mapped bone carries it, or where the file's bones do not hang on each other at all.
 */
function carrierOf({ target: { rig, roleBones } }: CarryPlan, from: number, to: number, upper: number): number | null {
  const mapped = new Set(roleBones.values());
  const carrier = rig.bones[to].parent;
  for (let at = carrier; at >= 0; at = rig.bones[at].parent) {
    if (at === from) return null;
    if (at === upper) return carrier === upper || mapped.has(carrier) ? null : carrier;
  }
  return null;
}

/** Segments of a character, each with the bone that truly carries its end where that is another. */
function segmentsOf(plan: CarryPlan) {
  const { roleBones } = plan.target;
  return SIDES.flatMap((side) =>
    SEGMENTS.flatMap(([role, end]) => {
      const [from, to] = [roleBones.get(side + role), roleBones.get(side + end)];
      if (from === undefined || to === undefined) return [];
      const above = roleAbove(plan.target, side + role);
      const upper = above === null ? undefined : roleBones.get(above);
      const carrier = upper === undefined ? null : carrierOf(plan, from, to, upper);
      return [{ role: side + role, end: side + end, from, to, carrier }];
    }),
  );
}

/** Bones that the mapping is measured by, besides those of roles. */
export const carrierBones = (plan: CarryPlan): number[] =>
  segmentsOf(plan).flatMap(({ carrier }) => (carrier === null ? [] : [carrier]));

/**
 * What shows that a bone stands for the wrong role. A limb whose end does not go where it points has its end on another
 * bone: a helper is mapped. A left joint that stands to the right of the right one is exchanged with it.
 */
export function measureMapping(plan: CarryPlan, track: FigureTrack, leg: number, limits: DrillLimits): Measure[] {
  const { target, standing } = plan;
  const { roleBones, rig, definition } = target;
  const sliding = new Set(plan.moved.map(({ boneIndex }) => boneIndex));
  const lines = segmentsOf(plan).flatMap(({ role, end, from, to, carrier }): Measure[] => {
    // A joint that slides goes where it is told.
    if (sliding.has(to)) return [];
    const along = subtract(standing.places[to], standing.places[from]);
    const label = (id: string): string => roleOf(definition, id).label.toLowerCase();
    return [
      {
        name: `line.${role}`,
        unit: '°',
        subject: `${label(end)} off the way that the ${label(role)} points`,
        bones: [from, ...(carrier === null ? [] : [carrier]), to].map((bone) => rig.bones[bone].name),
        values: Float64Array.from({ length: track.frameCount }, (_, frame) => {
          const points = rotate(track.changeOf(from, frame), along);
          const goes = subtract(track.placeOf(to, frame), track.placeOf(from, frame));
          // What carries the end in the file carries the skin as well, whatever is done about the joint.
          const skin = carrier === null ? points : rotate(track.changeOf(carrier, frame), along);
          return (Math.max(angleBetween(goes, points), angleBetween(skin, points)) * 180) / Math.PI;
        }),
        band: [0, limits.lineDeg],
      },
    ];
  });
  const pairs = [...ARM_PARTS, ...LEG_PARTS].flatMap((part) => {
    const [left, right] = SIDES.map((side) => roleBones.get(side + part));
    if (left === undefined || right === undefined) return [];
    const apart = ((standing.places[left][0] - standing.places[right][0]) / leg) * 100;
    return [{ apart, bones: [rig.bones[left].name, rig.bones[right].name] }];
  });
  if (pairs.length === 0) return lines;
  const worst = pairs.reduce((least, pair) => (pair.apart < least.apart ? pair : least));
  const sides: Measure = {
    name: 'sides',
    unit: '%',
    subject: 'left against right, to the left, in the reference pose',
    bones: worst.bones,
    values: new Float64Array(track.frameCount).fill(worst.apart),
    band: [0, Infinity],
  };
  return [...lines, sides];
}
