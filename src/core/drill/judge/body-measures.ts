import { SIDES } from '../../definition/definition';
import { MASSES } from '../../house/house-body';
import { massCentre } from '../../house/mass-centre';
import { distanceToSegment, scale, type Vec3 } from '../../math/vec3';
import type { CarryPlan } from '../../motion/carry-plan';
import { contactAt, type Motion } from '../../motion/motion';
import type { DrillLimits } from '../../profile/drill-limits';
import type { FigureTrack } from './figure-track';
import type { Measure } from './measure';
import { pointPlace, type Soles } from '../../ground/sole-points';

/** Joints that the centre of mass is worked out from. */
export const massBones = ({ target }: CarryPlan): number[] => [
  ...new Set(MASSES.flatMap(({ role, end }) => [role, end]).flatMap((role) => target.roleBones.get(role) ?? [])),
];

/**
 * How far the hips are from the way of the source's, scaled by the legs; % of the leg. A character that travels in metres
 * of the source is meant to go another way: it has no band.
 */
export function measurePath(
  { motion, target, standing, hips }: CarryPlan,
  track: FigureTrack,
  { leg, isScaled, limits }: { readonly leg: number; readonly isScaled: boolean; readonly limits: DrillLimits },
): Measure {
  const stands = standing.places[hips];
  const values = Float64Array.from({ length: track.frameCount }, (_, frame) => {
    const [x, , z] = track.placeOf(hips, frame);
    const [dx, dz] = [motion.hips[frame * 3], motion.hips[frame * 3 + 2]];
    return Math.hypot((x - stands[0]) / leg - dx, (z - stands[2]) / leg - dz) * 100;
  });
  return {
    name: 'path',
    unit: '%',
    subject: 'way of the hips against the source',
    bones: [target.rig.bones[hips].name],
    values,
    band: isScaled ? [0, limits.pathPercent] : null,
  };
}

/**
 * How far beside its support the centre of mass is, on the floor; % of the leg, 0 above it. The support is the hull of the
 * soles that bear. People run and jump out of balance, so nothing is allowed or forbidden. Masses: Winter, table 4.1.
 */
export function measureBalance(
  { target }: CarryPlan,
  track: FigureTrack,
  motion: Motion,
  soles: Soles,
  leg: number,
): Measure | null {
  const { roleBones, rig } = target;
  const known = MASSES.filter(({ role, end }) => roleBones.has(role) && roleBones.has(end));
  const weight = known.reduce((sum, { share }) => sum + share, 0);
  if (weight < LEAST_WEIGHT) return null;
  const roles = [...new Set(known.flatMap(({ role, end }) => [role, end]))];
  const centreAt = (frame: number): Vec3 => {
    const places = roles.map((role) => [role, track.placeOf(roleBones.get(role) as number, frame)] as const);
    return scale(massCentre(Object.fromEntries(places), known), 1 / weight);
  };
  const values = Float64Array.from({ length: track.frameCount }, (_, frame) => {
    const support = SIDES.flatMap((side) =>
      contactAt(motion.contacts, `${side}Foot`, frame)
        ? (soles.points[side] ?? []).map((point) =>
            pointPlace(point, track.placeOf(point.bone, frame), track.turnOf(point.bone, frame)),
          )
        : [],
    );
    return support.length === 0 ? NaN : (outsideHull(centreAt(frame), support) / leg) * 100;
  });
  const hips = roleBones.get('hips');
  return {
    name: 'balance',
    unit: '%',
    subject: 'centre of mass beside the soles that bear',
    bones: hips === undefined ? [] : [rig.bones[hips].name],
    values,
    band: null,
  };
}

/** With less of the body known its centre says nothing. */
const LEAST_WEIGHT = 0.6;

/** Distance on the floor from a point to the convex hull of others; 0 inside. */
function outsideHull([x, , z]: Vec3, points: readonly Vec3[]): number {
  const hull = hullOf(points.map(([px, , pz]) => [px, pz] as const));
  let [isInside, least] = [hull.length > 2, Infinity];
  hull.forEach(([ax, az], at) => {
    const [bx, bz] = hull[(at + 1) % hull.length];
    const [dx, dz] = [bx - ax, bz - az];
    if (dx * (z - az) - dz * (x - ax) < 0) isInside = false;
    least = Math.min(least, distanceToSegment([x, 0, z], [ax, 0, az], [bx, 0, bz]));
  });
  return isInside ? 0 : least;
}

type Flat = readonly [x: number, z: number];

/** Counter-clockwise. Source: Andrew 1979, Another efficient algorithm for convex hulls in two dimensions. */
function hullOf(points: readonly Flat[]): Flat[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (list: readonly Flat[]): Flat[] => {
    const kept: Flat[] = [];
    for (const point of list) {
      const turns = (): boolean => {
        const [a, b] = kept.slice(-2);
        return (b[0] - a[0]) * (point[1] - a[1]) - (b[1] - a[1]) * (point[0] - a[0]) <= 0;
      };
      while (kept.length >= 2 && turns()) kept.pop();
      kept.push(point);
    }
    return kept.slice(0, -1);
  };
  return [...half(sorted), ...half([...sorted].reverse())];
}
