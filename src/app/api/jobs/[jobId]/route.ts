import { JobParams } from '@/contract/requests';
import { guarded, notFound } from '@/server/http/http';
import { cancelIntake } from '@/server/intake/intake-job';
import { databaseQueue } from '@/server/jobs/database-queue';
import { jobView } from '@/server/jobs/job-view';

type Context = { params: Promise<{ jobId: string }> };

/** A job as it is now: 200 `{ job }`. */
export const GET = (request: Request, context: Context): Promise<Response> =>
  guarded(request, 'job', async () => {
    const params = JobParams.safeParse(await context.params);
    const job = params.success ? await databaseQueue.find(params.data.jobId) : null;
    return job ? Response.json({ job: jobView(job) }) : notFound('There is no such job.');
  });

/**
 * Cancels a job: 200 `{ job }` as it is now, null for an upload that has not come yet, which is refused when it does.
 * One that is over stays as it is.
 */
export const DELETE = (request: Request, context: Context): Promise<Response> =>
  guarded(request, 'job', async () => {
    const params = JobParams.safeParse(await context.params);
    if (!params.success) return notFound('There is no such job.');
    const job = await cancelIntake(databaseQueue, params.data.jobId);
    return Response.json({ job: job && jobView(job) });
  });
