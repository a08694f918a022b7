import { carryHandler } from '../board/carry-job';
import { drillResults } from '../board/drill-results';
import { outHandler } from '../board/out-job';
import { setDrillSource } from '../fits/drill-results';
import { databaseQueue } from '../jobs/database-queue';
import { JobRunner, type JobHandlers } from '../jobs/runner';
import { intakeHandler } from '../intake/intake-job';
import { packHandler } from '../packs/pack-job';
import { rematchHandler } from '../renewals/rematch-job';
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

/** Goes on with what an earlier server left, and works on what comes. */
export async function startJobs(): Promise<void> {
  setDrillSource(drillResults);
  const runner = jobRunner();
  // The supervisor runs one web server on a database: whatever others hold, they are gone.
  await databaseQueue.release(runner.owner);
  runner.start();
}
