import type { Spare } from '../match/context/match-types';
import { roleAbove, type FittedRig } from './fitted-rig';
import type { BoneSlot } from './line-slots';

/**
 * Bones that do not hang on what they belong to (a hand that is a tree of its own, a skeleton without any tree), and the
 * bone that must carry them all the same: that of the slot above, or the one that a spare rides on.
 */
export function looseBones(
  fitted: FittedRig,
  slots: readonly BoneSlot[],
  spares: readonly Spare[],
): Map<number, number> {
  const { rig, roleBones } = fitted;
  const hips = roleBones.get('hips');
  const hangsOn = (bone: number, carrier: number): boolean => {
    for (let at = rig.bones[bone].parent; at >= 0; at = rig.bones[at].parent) if (at === carrier) return true;
    return false;
  };
  const carriers = new Map<number, number>();
  slots.forEach(({ line, role, boneIndex }, at) => {
    const before = slots[at - 1];
    // A member of a run goes on from the slot before it.
    const above =
      before?.line === line && (role === null || before.role === null)
        ? before.boneIndex
        : role === null
          ? undefined
          : roleBones.get(roleAbove(fitted, role) ?? '');
    if (above !== undefined && boneIndex !== hips) carriers.set(boneIndex, above);
  });
  for (const { boneIndex, ridesOn } of spares)
    if (ridesOn >= 0 && ridesOn !== boneIndex && rig.bones[boneIndex].parent < 0) carriers.set(boneIndex, ridesOn);
  return new Map([...carriers].filter(([bone, carrier]) => !hangsOn(bone, carrier) && !hangsOn(carrier, bone)));
}
