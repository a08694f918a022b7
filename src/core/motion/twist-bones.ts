import { sideOfRole } from '../definition/definition';
import { dot, lengthOf, normalise, scale, subtract, type Vec3 } from '../math/vec3';
import type { Spare } from '../match/context/match-types';
import { endsOf } from '../posture/role-frames';
import type { FittedRig, StandingFigure } from './fitted-rig';

/** A twist bone and how it is driven. */
export interface TwistBone {
  readonly boneIndex: number;
  /** Role of the segment it lies on. */
  readonly role: string;
  /** Role whose turn about the segment it shares: the hand or foot below, or the segment's own. */
  readonly twistOf: string;
  /** Share of that turn that it adds to the segment: u for the one below, u - 1 for the segment's own. */
  readonly factor: number;
  /** Place along the segment, 0 to 1. */
  readonly share: number;
  /** What it turns about in the reference posture, body frame, unit. */
  readonly axis: Vec3;
}

/** Segments that twist bones lie on, and whose turn they share. */
const SHARED: Readonly<Record<string, string>> = {
  LowerArm: 'Hand',
  LowerLeg: 'Foot',
  UpperArm: 'UpperArm',
  UpperLeg: 'UpperLeg',
};

/**
 * Twist bones of a figure: one at share u along forearm or shin adds u times the twist of the hand or foot; one on upper
 * arm or thigh takes back (1 - u) of the segment's own, so that the shoulder does not wring.
 *
 * @param shares set by a person, by bone; others as they lie.
 */
export function twistBones(
  fitted: FittedRig,
  { places }: StandingFigure,
  spares: readonly Spare[],
  shares: Readonly<Record<string, number>>,
): TwistBone[] {
  const { rig, definition, roleBones } = fitted;
  const segments = new Map([...roleBones].map(([role, bone]) => [bone, role]));
  return spares.flatMap(({ boneIndex, kind, ridesOn }) => {
    const role = segments.get(kind === 'twist' ? segmentOf(boneIndex, ridesOn) : -1);
    const side = role === undefined ? null : sideOfRole(definition, role);
    const shared = side && role ? SHARED[role.slice(side.length)] : undefined;
    if (!role || !side || !shared) return [];
    const [start] = [places[roleBones.get(role) as number]];
    const end = endsOf(role, { definition, roleBones }).map((bone) => places[bone])[0];
    const along = end && subtract(end, start);
    const length = along ? lengthOf(along) : 0;
    if (!along || length < 1e-6) return [];
    const lies = dot(subtract(places[boneIndex], start), along) / (length * length);
    const share = shares[boneIndex] ?? Math.max(0, Math.min(1, lies));
    const twistOf = side + shared;
    if (!roleBones.has(twistOf)) return [];
    const axis = towardsNext(boneIndex) ?? scale(along, 1 / length);
    return [{ boneIndex, role, twistOf, factor: twistOf === role ? share - 1 : share, share, axis }];
  });

  /** Bone of the role that a twist bone hangs on, also below another twist bone. */
  function segmentOf(bone: number, ridesOn: number): number {
    for (let at = rig.bones[bone].parent; at >= 0; at = rig.bones[at].parent) if (segments.has(at)) return at;
    return ridesOn;
  }

  /** Towards the joint of a chain that goes on below: turned about it, that joint stays where it is. */
  function towardsNext(bone: number): Vec3 | null {
    const next = rig.bones.find(({ parent, index }) => parent === bone && leadsToRole(index));
    return next ? normalise(subtract(places[next.index], places[bone])) : null;
  }

  function leadsToRole(bone: number): boolean {
    return segments.has(bone) || rig.bones.some(({ parent, index }) => parent === bone && leadsToRole(index));
  }
}
