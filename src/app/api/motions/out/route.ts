import { MotionOutBody } from '@/contract/board';
import { boardRiders } from '@/server/board/read-board';
import { queueOut } from '@/server/board/out-job';
import { authorOf, jsonRoute } from '@/server/http/http';
import { databaseQueue } from '@/server/jobs/database-queue';
import { jobView } from '@/server/jobs/job-view';

/** Queues writing motions out as files: 202 `{ job }`, whose result names the zip; 422 where names do not do. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'motions', MotionOutBody, async ({ jobId, ...wanted }) => {
    const characterIds = wanted.characterIds ?? (await boardRiders(wanted));
    const job = await queueOut(databaseQueue, { ...wanted, characterIds }, authorOf(request), jobId);
    return Response.json({ job: jobView(job) }, { status: 202 });
  });
