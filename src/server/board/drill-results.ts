import type { DrillResult } from '@/core/plan/drill-result';
import { carryStampOf } from '../fits/carry-stamp';
import type { CurrentFit } from '../fits/fit-repository';
import { stampedMotions } from '../motions/recipe';
import { listCarried, stampOf } from './carried-repository';

/**
 * Flags of the motions that were carried to some characters as they stand, by the character's id, the most harmful first.
 * Three statements, however many characters and motions there are; one where nothing was carried.
 */
export async function drillResults(fits: readonly CurrentFit[]): Promise<ReadonlyMap<string, readonly DrillResult[]>> {
  const records = await listCarried(
    fits.map(({ characterId }) => characterId),
    { isFlagged: true },
  );
  if (records.length === 0) return new Map();
  const motions = new Map((await stampedMotions()).map((motion) => [motion.key, motion]));
  const stamps = new Map(fits.map(({ characterId, state }) => [characterId, carryStampOf(state)]));
  const found = new Map<string, { readonly harm: number; readonly result: DrillResult }[]>();
  for (const { characterId, motionKey, stamp, drilled, problem } of records) {
    const motion = motions.get(motionKey);
    const [worst] = drilled?.worst ?? [];
    if (!motion || !drilled || !worst || problem) continue;
    if (stamp !== stampOf(motion.stamp, stamps.get(characterId) ?? '')) continue;
    const { frame, sentence } = worst;
    const result = { motionKey, motion: motion.name, count: drilled.count, worst: { frame, sentence } };
    found.set(characterId, [...(found.get(characterId) ?? []), { harm: drilled.harm, result }]);
  }
  return new Map([...found].map(([id, own]) => [id, own.sort((a, b) => b.harm - a.harm).map(({ result }) => result)]));
}
