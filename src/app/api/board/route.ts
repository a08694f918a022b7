import { BoardQuery, CarryManyBody } from '@/contract/board';
import { queueCarry } from '@/server/board/carry-job';
import { boardRiders, readBoard } from '@/server/board/read-board';
import { authorOf, guarded, invalidRequest, jsonRoute } from '@/server/http/http';
import { databaseQueue } from '@/server/jobs/database-queue';
import { jobView } from '@/server/jobs/job-view';

/** A page of characters by motions, and what carrying came to. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'board', async () => {
    const query = BoardQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    return Response.json(await readBoard(query.data));
  });

/** Queues carrying motions to characters: 202 `{ job }`. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'board', CarryManyBody, async ({ motionKeys, jobId, ...chosen }) => {
    const characterIds = chosen.characterIds ?? (await boardRiders(chosen));
    const job = await queueCarry(databaseQueue, { characterIds, motionKeys }, authorOf(request), jobId);
    return Response.json({ job: jobView(job) }, { status: 202 });
  });
