import { SIDES, type Side } from '../definition/definition';
import type { Geometry } from '../geometry/geometry';
import { conjugate, rotate } from '../math/quat';
import { add, normalise, scale, subtract, ZERO, type Vec3 } from '../math/vec3';
import type { FittedRig, StandingFigure } from '../motion/fitted-rig';
import { posedPlaces, type SkinnedSelection } from '../posture/skinned-selection';
import { selectFeet, type FootSelections } from '../posture/soles';
import { computeWorlds } from '../rig/pose';

/** A point of a foot or a hand that may bear, fixed to a bone. */
export interface SolePoint {
  readonly kind: 'heel' | 'ball' | 'tip' | 'palm';
  readonly bone: number;
  /** From the bone's joint, in the bone's own axes; metres. */
  readonly offset: Vec3;
  /** Where it is in the reference posture, body frame. */
  readonly standing: Vec3;
}

export interface Soles {
  readonly points: Readonly<Partial<Record<Side, readonly SolePoint[]>>>;
  /** What of each hand bears, where it bears. */
  readonly palms: Readonly<Partial<Record<Side, SolePoint>>>;
  /** The floor that the reference posture stands on, body frame, metres: the lowest of all points. */
  readonly floor: number;
  /** Whether they were measured on the mesh, or taken from the joints. */
  readonly isFromMesh: boolean;
}

/** Shares of a foot's length, from the heel, in which its points are looked for. */
const ZONES = {
  heel: [0, 0.25],
  ball: [0.55, 0.8],
  tip: [0.85, 1],
} as const;

/**
 * Heel, ball and tip of each foot, and the palm of each hand; none where a side has no foot or hand.
 * @param moved where a person moved a point: "left heel" -> from its bone's joint, in the bone's axes, metres.
 */
export function findSoles(
  fitted: FittedRig,
  standing: StandingFigure,
  geometry: Geometry | null,
  moved: Readonly<Record<string, Vec3>> = {},
): Soles {
  return solesOn(fitted, standing, geometry ? selectFeet(fitted, geometry) : null, moved);
}

/** The same, on feet that were taken out of the mesh before: for pose after pose. */
export function solesOn(
  fitted: FittedRig,
  standing: StandingFigure,
  feet: FootSelections | null,
  moved: Readonly<Record<string, Vec3>> = {},
): Soles {
  const points: Partial<Record<Side, SolePoint[]>> = {};
  let isFromMesh = false;
  const palms: Partial<Record<Side, SolePoint>> = {};
  const asMoved = (side: Side, point: SolePoint): SolePoint => {
    const offset = moved[`${side} ${point.kind}`];
    if (!offset) return point;
    const { rotations, places } = standing;
    return { ...point, offset, standing: add(places[point.bone], rotate(rotations[point.bone], offset)) };
  };
  for (const side of SIDES) {
    const palm = palmOf(fitted, standing, side);
    if (palm) palms[side] = asMoved(side, palm);
    const foot = fitted.roleBones.get(`${side}Foot`);
    if (foot === undefined) continue;
    const selection = feet?.get(side);
    const onMesh = selection ? fromMesh(fitted, standing, selection, side, foot) : null;
    if (onMesh) isFromMesh = true;
    points[side] = (onMesh ?? fromJoints(fitted, standing, side, foot)).map((point) => asMoved(side, point));
  }
  const heights = Object.values(points).flatMap((list) => list.map((point) => point.standing[1]));
  return { points, palms, floor: Math.min(...heights, Infinity), isFromMesh };
}

function fromMesh(
  fitted: FittedRig,
  standing: StandingFigure,
  selection: SkinnedSelection,
  side: Side,
  foot: number,
): SolePoint[] | null {
  const { rig, pose, normalisation, roleBones } = fitted;
  const places = posedPlaces(selection, computeWorlds(rig, pose), normalisation);
  const toes = roleBones.get(`${side}Toes`);
  const ahead = headingOf(standing, foot, toes);
  const along = Array.from(
    { length: selection.vertexCount },
    (_, at) => places[at * 3] * ahead[0] + places[at * 3 + 2] * ahead[2],
  );
  const [back, front] = [Math.min(...along), Math.max(...along)];
  const lowest = ([from, to]: readonly [number, number]): Vec3 | null => {
    let best: Vec3 | null = null;
    along.forEach((value, at) => {
      const share = (value - back) / Math.max(1e-9, front - back);
      const y = places[at * 3 + 1];
      if (share >= from && share <= to && (best === null || y < best[1]))
        best = [places[at * 3], y, places[at * 3 + 2]];
    });
    return best;
  };
  const found = (['heel', 'ball', 'tip'] as const).flatMap((kind): SolePoint[] => {
    const place = lowest(ZONES[kind]);
    return place ? [pointAt(standing, kind, kind === 'tip' ? (toes ?? foot) : foot, place)] : [];
  });
  return found.length > 0 ? found : null;
}

/** Without a mesh a foot bears below its joints, at the height of the lower one's. */
function fromJoints({ roleBones }: FittedRig, standing: StandingFigure, side: Side, foot: number): SolePoint[] {
  const toes = roleBones.get(`${side}Toes`);
  const ankle = standing.places[foot];
  const ball = toes === undefined ? null : standing.places[toes];
  const low = ball ? Math.min(ankle[1], ball[1]) : ankle[1];
  const at = ([x, , z]: Vec3): Vec3 => [x, low, z];
  return [pointAt(standing, 'heel', foot, at(ankle)), ...(ball ? [pointAt(standing, 'ball', foot, at(ball))] : [])];
}

/** Halfway from the wrist to the middle of the knuckles. */
function palmOf({ roleBones }: FittedRig, standing: StandingFigure, side: Side): SolePoint | null {
  const hand = roleBones.get(`${side}Hand`);
  if (hand === undefined) return null;
  const knuckles = ['Index', 'Middle', 'Ring', 'Little'].flatMap(
    (digit) => roleBones.get(`${side}${digit}Proximal`) ?? [],
  );
  const wrist = standing.places[hand];
  const middle = knuckles.reduce<Vec3>(
    (sum, bone) => add(sum, scale(standing.places[bone], 1 / knuckles.length)),
    knuckles.length > 0 ? ZERO : wrist,
  );
  return pointAt(standing, 'palm', hand, scale(add(wrist, middle), 0.5));
}

function headingOf(standing: StandingFigure, foot: number, toes: number | undefined): Vec3 {
  const way = toes === undefined ? null : subtract(standing.places[toes], standing.places[foot]);
  return (way && normalise([way[0], 0, way[2]])) ?? [0, 0, 1];
}

const pointAt = (standing: StandingFigure, kind: SolePoint['kind'], bone: number, place: Vec3): SolePoint => ({
  kind,
  bone,
  offset: rotate(conjugate(standing.rotations[bone]), subtract(place, standing.places[bone])),
  standing: place,
});

/** Where a point is, given its bone's joint and world turn. */
export const pointPlace = (point: SolePoint, joint: Vec3, turn: readonly [number, number, number, number]): Vec3 =>
  add(joint, rotate(turn, point.offset));
