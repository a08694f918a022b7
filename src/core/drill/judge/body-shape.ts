import { SIDES, type Side } from '../../definition/definition';
import type { Geometry } from '../../geometry/geometry';
import { conjugate, rotate } from '../../math/quat';
import { distanceToSegment, subtract, type Vec3 } from '../../math/vec3';
import type { CarryTarget } from '../../motion/carry-plan';
import type { StandingFigure } from '../../motion/fitted-rig';
import {
  bonesBelow,
  heaviestBones,
  posedPlaces,
  selectedTriangles,
  selectVertices,
  type SkinnedSelection,
} from '../../posture/skinned-selection';
import { computeWorlds } from '../../rig/pose';
import { radialWall, spreadOver, type RadialWall } from './radial-wall';

/** A rounded rod about a segment: from the joint of one bone to that of another. */
interface Capsule {
  readonly from: number;
  readonly to: number;
  /** Metres. */
  readonly radius: number;
}

/** A point of the skin, fixed to the bone that carries most of it. */
interface SkinPoint {
  readonly bone: number;
  /** From the bone's joint, in the bone's own axes; metres. */
  readonly offset: Vec3;
}

/** Part that may touch another: a hand, a forearm. */
export interface Feeler {
  readonly capsule: Capsule;
  readonly points: readonly SkinPoint[];
}

/** Part that is touched: a thigh, the trunk from joint to joint. */
export interface Wall {
  readonly segments: readonly RadialWall[];
}

/** Capsules and skin of a body, taken from its mesh once. */
export interface BodyShape {
  readonly hands: Partial<Record<Side, Feeler>>;
  readonly forearms: Partial<Record<Side, Feeler>>;
  readonly thighs: Partial<Record<Side, Wall>>;
  readonly trunk: Wall | null;
  readonly shins: Partial<Record<Side, Capsule>>;
}

/** A feeler is held against a wall by so many points of its skin. */
const MOST_POINTS = 48;
/** The skin of a wall is looked at in points so far apart, of the height. */
const SPACING_SHARE = 0.015;
/** Fewer vertices are no part of a body. */
const LEAST_VERTICES = 8;
/** What hangs or is carried is not the body. */
const LOOSE_KINDS = new Set(['dangling', 'prop', 'control', 'leftover']);

/** Null for a character without mesh on any of these parts. */
export function fitBody(target: CarryTarget, standing: StandingFigure, geometry: Geometry): BodyShape | null {
  const { rig, roleBones, normalisation, pose } = target;
  const worlds = computeWorlds(rig, pose);
  const boneOf = (role: string): number | undefined => roleBones.get(role);
  const hanging = new Set(target.spares.filter(({ kind }) => LOOSE_KINDS.has(kind)).map(({ boneIndex }) => boneIndex));
  const pick = (tops: readonly string[], stops: readonly string[]) => {
    const ends = new Set([...stops.flatMap((role) => boneOf(role) ?? []), ...hanging]);
    const selection = selectVertices(rig, geometry, bonesBelow(rig, tops.map(boneOf), ends));
    return selection.vertexCount < LEAST_VERTICES
      ? null
      : { selection, places: posedPlaces(selection, worlds, normalisation) };
  };
  const capsuleOf = (from: string, to: string, places: Float64Array): Capsule | null => {
    const [start, end] = [boneOf(from), boneOf(to)];
    if (start === undefined || end === undefined) return null;
    const radius = medianDistance(places, standing.places[start], standing.places[end]);
    return { from: start, to: end, radius };
  };
  const feelerOf = (top: string, end: string, stops: readonly string[]): Feeler | null => {
    const own = pick([top], stops);
    const capsule = own && capsuleOf(top, end, own.places);
    if (!own || !capsule) return null;
    return { capsule, points: pointsOf(own.selection, own.places, standing, capsule) };
  };
  /** @param lowest vertices further down are skirts; null for all. */
  const wallOf = (
    ends: readonly (readonly [string, string])[],
    own: ReturnType<typeof pick>,
    lowest: number | null,
  ): Wall | null => {
    const rods = ends.flatMap(([from, to]) => {
      const [start, end] = [boneOf(from), boneOf(to)];
      return start === undefined || end === undefined ? [] : [{ from: start, to: end }];
    });
    if (!own || rods.length === 0) return null;
    const skin = spreadOver(own.places, selectedTriangles(own.selection), SPACING_SHARE * normalisation.heightMetres);
    return { segments: rods.map((rod) => radialWall(rod, rods, skin, standing, lowest)) };
  };
  const bothSides = <Part>(of: (side: Side) => Part | null): Partial<Record<Side, Part>> =>
    Object.fromEntries(
      SIDES.flatMap((side) => {
        const part = of(side);
        return part ? [[side, part]] : [];
      }),
    );
  const knuckle = (side: Side): string =>
    ['Middle', 'Index', 'Ring', 'Little'].map((digit) => `${side}${digit}Proximal`).find((role) => boneOf(role)) ??
    `${side}Hand`;
  const trunkStops = [
    'neck',
    'head',
    ...SIDES.flatMap((side) => [`${side}Shoulder`, `${side}UpperArm`, `${side}UpperLeg`]),
  ];
  const heights = ['hips', 'spine', 'chest', 'upperChest', 'neck'].filter((role) => boneOf(role) !== undefined);
  const shape: BodyShape = {
    hands: bothSides((side) => feelerOf(`${side}Hand`, knuckle(side), [])),
    forearms: bothSides((side) => feelerOf(`${side}LowerArm`, `${side}Hand`, [`${side}Hand`])),
    thighs: bothSides((side) =>
      wallOf([[`${side}UpperLeg`, `${side}LowerLeg`]], pick([`${side}UpperLeg`], [`${side}LowerLeg`]), null),
    ),
    trunk: wallOf(
      heights.slice(1).map((role, at) => [heights[at], role] as const),
      pick(['hips'], trunkStops),
      Math.min(...SIDES.flatMap((side) => standing.places[boneOf(`${side}UpperLeg`) ?? -1]?.[1] ?? [])),
    ),
    shins: bothSides((side) => {
      const own = pick([`${side}LowerLeg`], [`${side}Foot`]);
      return own && capsuleOf(`${side}LowerLeg`, `${side}Foot`, own.places);
    }),
  };
  const parts = [shape.hands, shape.forearms, shape.thighs, shape.shins].flatMap((each) => Object.values(each));
  return parts.length > 0 || shape.trunk ? shape : null;
}

/** Bones whose worlds clearance is measured from. */
export function bodyBones({ hands, forearms, thighs, trunk, shins }: BodyShape): number[] {
  const rods = [
    ...Object.values(shins),
    ...[...Object.values(thighs), ...(trunk ? [trunk] : [])].flatMap(({ segments }) => segments),
  ];
  const feelers = [...Object.values(hands), ...Object.values(forearms)];
  return [
    ...new Set([
      ...[...rods, ...feelers.map(({ capsule }) => capsule)].flatMap(({ from, to }) => [from, to]),
      ...feelers.flatMap(({ points }) => points.map(({ bone }) => bone)),
    ]),
  ];
}

/** Clothes stand out: half of the skin is nearer than this to the segment. */
function medianDistance(places: Float64Array, start: Vec3, end: Vec3): number {
  const away = new Float64Array(places.length / 3);
  for (let at = 0; at < away.length; at++)
    away[at] = distanceToSegment([places[at * 3], places[at * 3 + 1], places[at * 3 + 2]], start, end);
  away.sort();
  return away[away.length >> 1];
}

/** What stands out further than this from the segment, in radii, is held or worn. */
const SKIN_RADII = 1.6;

function pointsOf(
  selection: SkinnedSelection,
  places: Float64Array,
  standing: StandingFigure,
  { from, to, radius }: Capsule,
): SkinPoint[] {
  const bones = heaviestBones(selection);
  const skin: SkinPoint[] = [];
  bones.forEach((bone, vertex) => {
    const place: Vec3 = [places[vertex * 3], places[vertex * 3 + 1], places[vertex * 3 + 2]];
    // Fingers reach beyond the knuckles, where the rod ends.
    const isBeyond = bone !== from;
    if (!isBeyond && distanceToSegment(place, standing.places[from], standing.places[to]) > SKIN_RADII * radius) return;
    skin.push({ bone, offset: rotate(conjugate(standing.rotations[bone]), subtract(place, standing.places[bone])) });
  });
  const step = Math.max(1, skin.length / MOST_POINTS);
  return Array.from({ length: Math.min(skin.length, MOST_POINTS) }, (_, at) => skin[Math.floor(at * step)]);
}
