import { compose, decompose, translationOf, type Mat4 } from '../math/mat4';
import { IDENTITY } from '../math/quat';
import { lerp, type Vec3 } from '../math/vec3';
import type { FitState } from '../fit/fit';
import type { EngineProfile, Helper } from '../profile/profile';

/** A bone that handoff adds. */
export interface PlannedBone {
  readonly name: string;
  /** Bone that it hangs on, or -1 for the root. */
  readonly parent: number;
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
    const parent = helper.parent === 'root' ? -1 : boneOf(helper.parent);
    const place = placeOf(helper);
    if (parent === undefined || place === null || taken.has(helper.name.toLowerCase())) return [];
    const turn = keepsTurn && parent >= 0 ? decompose(worlds[parent]).rotation : IDENTITY;
    return [{ name: helper.name, parent, world: compose(place, turn, [1, 1, 1]) }];
  };
  // What is carried turns with the hand that carries it; targets stand as the world does.
  return [
    ...profile.helpers.flatMap((helper) => placed(helper, false)),
    ...profile.attachments.flatMap((helper) => placed(helper, true)),
  ];

  function placeOf({ place }: Helper): Vec3 | null {
    const at = (role: string): Vec3 | null => {
      const bone = boneOf(role);
      return bone === undefined ? null : translationOf(worlds[bone]);
    };
    const own = at(place.role);
    if (!own) return null;
    if (place.kind === 'at') return own;
    if (place.kind === 'floor') return [own[0], 0, own[2]];
    const other = at(place.other);
    return other && lerp(own, other, 0.5);
  }
}
