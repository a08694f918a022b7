import type { FitState } from './fit';

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

/** A posture for the bones that are still there. */
export function carryPosture(
  { rotations, shift }: FitState['posture'],
  carried: ReadonlyMap<number, number>,
): FitState['posture'] {
  const shifted = shift ? carried.get(shift.boneIndex) : undefined;
  return {
    rotations: carryKeys(rotations, carried),
    shift: shift && shifted !== undefined ? { ...shift, boneIndex: shifted } : null,
  };
}
