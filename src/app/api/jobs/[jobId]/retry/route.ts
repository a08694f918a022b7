import { JobParams } from '@/contract/requests';
import { guarded, notFound } from '@/server/http/http';
import { databaseQueue } from '@/server/jobs/database-queue';
import { jobView } from '@/server/jobs/job-view';

/** Queues a failed or cancelled job again: 200 `{ job }`; 404 where there is none. */
export const POST = (request: Request, context: { params: Promise<{ jobId: string }> }): Promise<Response> =>
  guarded(request, 'job', async () => {
    const params = JobParams.safeParse(await context.params);
    const job = params.success ? await databaseQueue.retry(params.data.jobId) : null;
    return job ? Response.json({ job: jobView(job) }) : notFound('There is no such job that failed.');
  });
