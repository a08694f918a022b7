import type { Posture } from '../posture/posture';
import type { RigPose } from '../rig/pose';

/** A record by bone index, for the bones that are still there. @param carried old bone -> new bone. */
export const carryKeys = <Value>(
  record: Readonly<Record<string, Value>>,
  carried: ReadonlyMap<number, number>,
): Record<string, Value> =>
  Object.fromEntries(
    Object.entries(record).flatMap(([bone, value]) => {
      const now = carried.get(Number(bone));
      return now === undefined ? [] : [[String(now), value]];
    }),
  );

/** A pose for the bones that are still there. */
function carryPose({ rotations, shift }: RigPose, carried: ReadonlyMap<number, number>): RigPose {
  const shifted = shift ? carried.get(shift.boneIndex) : undefined;
  return {
    rotations: carryKeys(rotations, carried),
    shift: shift && shifted !== undefined ? { ...shift, boneIndex: shifted } : null,
  };
}

/** A posture, and what it was made from, for the bones that are still there. */
export const carryPosture = (posture: Posture, carried: ReadonlyMap<number, number>): Posture => ({
  ...posture,
  ...carryPose(posture, carried),
  taken: posture.taken && carryPose(posture.taken, carried),
  start: posture.start && carryPose(posture.start, carried),
});
