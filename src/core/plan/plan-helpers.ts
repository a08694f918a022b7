import { compose, decompose, translationOf, type Mat4 } from '../math/mat4';
import { IDENTITY } from '../math/quat';
import { lerp, type Vec3 } from '../math/vec3';
import type { FitState } from '../fit/fit';
import type { EngineProfile, Helper } from '../profile/profile';

/** What an added bone hangs on: one of the character's, one that is added before it, the root, or nothing. */
export type PlannedParent =
  | { readonly kind: 'bone'; readonly bone: number }
  | { readonly kind: 'added'; readonly at: number }
  | { readonly kind: 'root' }
  | { readonly kind: 'none' };

/** A bone that handoff adds. */
export interface PlannedBone {
  readonly name: string;
  readonly parent: PlannedParent;
  /** In the written space. */
  readonly world: Mat4;
}

interface HelperInput {
  readonly fit: FitState;
  readonly profile: EngineProfile;
  /** Names that bones have already. */
  readonly names: readonly string[];
  /** Joints as they are written. */
  readonly worlds: readonly Mat4[];
}

/** The helpers and attachment points of a profile that can be placed, and are not there. */
export function planHelpers({ fit, profile, names, worlds }: HelperInput): PlannedBone[] {
  const taken = new Set(names.map((name) => name.toLowerCase()));
  const boneOf = (role: string): number | undefined => fit.assignments[role]?.boneIndex;
  const placed = (helper: Helper, keepsTurn: boolean): PlannedBone[] => {
    const bone = boneOf(helper.parent);
    const isOnRoot = helper.parent === 'root';
    const place = placeOf(helper);
    if ((bone === undefined && !isOnRoot) || place === null || taken.has(helper.name.toLowerCase())) return [];
    const turn = keepsTurn && bone !== undefined ? decompose(worlds[bone]).rotation : IDENTITY;
    const parent: PlannedParent = bone === undefined ? { kind: 'root' } : { kind: 'bone', bone };
    return [{ name: helper.name, parent, world: compose(place, turn, [1, 1, 1]) }];
  };
  // What is carried turns with the hand that carries it; targets stand as the world does.
  return [
    ...profile.helpers.flatMap((helper) => placed(helper, false)),
    ...profile.attachments.flatMap((helper) => placed(helper, true)),
  ];

  function placeOf({ place }: Helper): Vec3 | null {
    return helperPlace(place, (role) => {
      const bone = boneOf(role);
      return bone === undefined ? null : translationOf(worlds[bone]);
    });
  }
}

/** Where a helper is put; null where a role that it is placed by has no bone. */
export function helperPlace(place: Helper['place'], placeOf: (role: string) => Vec3 | null): Vec3 | null {
  const own = placeOf(place.role);
  if (!own) return null;
  if (place.kind === 'at') return own;
  if (place.kind === 'floor') return [own[0], 0, own[2]];
  const other = placeOf(place.other);
  return other && lerp(own, other, 0.5);
}
