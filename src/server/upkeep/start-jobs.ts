import { setTimeout as wait } from 'node:timers/promises';
import { carryHandler } from '../board/carry-job';
import { drillResults } from '../board/drill-results';
import { outHandler } from '../board/out-job';
import { setDrillSource } from '../fits/drill-results';
import { isAway } from '../database/database-problem';
import { databaseQueue } from '../jobs/database-queue';
import { JobRunner, type JobHandlers } from '../jobs/runner';
import { intakeHandler } from '../intake/intake-job';
import { packHandler } from '../packs/pack-job';
import { rematchHandler } from '../renewals/rematch-job';
import { log } from '../log/logger';
import { processWide } from '../settings/process-wide';

const HANDLERS: JobHandlers = {
  intake: intakeHandler,
  pack: packHandler,
  rematch: rematchHandler,
  carry: carryHandler,
  'motion-out': outHandler,
};
/** One for each worker process, so that none of them waits for the database. */
const AT_ONCE = 2;

/** Who works on jobs in this process. */
export const jobRunner = (): JobRunner =>
  processWide('job runner', () => new JobRunner(databaseQueue, HANDLERS, AT_ONCE));

/** Until the database is there, it is looked for this often. */
const LOOK_MS = 1_000;

/** Goes on with what an earlier server left, and works on what comes; waits for the database where that is away. */
export async function startJobs(): Promise<void> {
  setDrillSource(drillResults);
  const runner = jobRunner();
  for (;;) {
    try {
      // The supervisor runs one web server on a database: whatever others hold, they are gone.
      await databaseQueue.release(runner.owner);
      break;
    } catch (error) {
      if (!isAway(error)) log().error({ err: error }, 'jobs of an earlier server could not be taken over');
      await wait(LOOK_MS);
    }
  }
  runner.start();
}
