import { BoardQuery, CarryManyBody } from '@/contract/board';
import { queueCarry } from '@/server/board/carry-job';
import { readBoard } from '@/server/board/read-board';
import { authorOf, guarded, invalidRequest, jsonRoute } from '@/server/http/http';
import { databaseQueue } from '@/server/jobs/database-queue';
import { jobView } from '@/server/jobs/job-view';

/** Characters by motions, and what carrying came to. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'board', async () => {
    const query = BoardQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const { characters } = query.data;
    return Response.json(await readBoard(characters === undefined ? null : new Set(characters.split(','))));
  });

/** Queues carrying motions to characters: 202 `{ job }`. */
export const POST = (request: Request): Promise<Response> =>
  jsonRoute(request, 'board', CarryManyBody, async (body) =>
    Response.json({ job: jobView(await queueCarry(databaseQueue, body, authorOf(request))) }, { status: 202 }),
  );
