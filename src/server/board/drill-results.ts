import type { DrillResult } from '@/core/plan/drill-result';
import type { CurrentFit } from '../fits/fit-repository';
import { listMotionRows } from '../motions/motion-repository';
import { houseMotions, keyedRow } from '../motions/recipe';
import { listCarried, stampOf } from './carried-repository';
import { fitStampOf } from './passengers';

/** Flags of the motions that were carried to a character as it stands, the most harmful first. */
export async function drillResults(fit: CurrentFit): Promise<readonly DrillResult[]> {
  const records = await listCarried([fit.characterId]);
  if (records.length === 0) return [];
  const motions = [...(await Promise.all((await listMotionRows()).map(keyedRow))), ...houseMotions()];
  const byKey = new Map(motions.map((motion) => [motion.key, motion]));
  const fitStamp = fitStampOf(fit);
  return records
    .flatMap(({ motionKey, stamp, drilled, problem }) => {
      const motion = byKey.get(motionKey);
      const [worst] = drilled?.worst ?? [];
      if (!motion || !drilled || !worst || problem || stamp !== stampOf(motion.stamp, fitStamp)) return [];
      const { frame, sentence } = worst;
      return [
        {
          harm: drilled.harm,
          result: { motionKey, motion: motion.name, count: drilled.count, worst: { frame, sentence } },
        },
      ];
    })
    .sort((a, b) => b.harm - a.harm)
    .map(({ result }) => result);
}
