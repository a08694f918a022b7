import { CharacterParams, HandoffQuery } from '@/contract/requests';
import { randomUUID } from 'node:crypto';
import { authorOf, guarded, invalidRequest, notFound, type CharacterContext } from '@/server/http/http';
import { databaseQueue } from '@/server/jobs/database-queue';
import { jobView } from '@/server/jobs/job-view';
import { queuePack } from '@/server/packs/pack-job';

/**
 * Queues the next pack: it is built, verified and kept; `?job=` names the job, so that one asked for again after an
 * answer got lost is made once. 202 `{ job }`, whose result is `{ version, fileName }`; a blocker
 * or a failed read-back is the job's problem.
 */
export const POST = (request: Request, context: CharacterContext): Promise<Response> =>
  guarded(request, 'handoff', async () => {
    const params = CharacterParams.safeParse(await context.params);
    if (!params.success) return notFound();
    const query = HandoffQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const { job: id = randomUUID(), definition: definitionId } = query.data;
    const job = await queuePack(databaseQueue, id, params.data.characterId, authorOf(request), definitionId);
    return job ? Response.json({ job: jobView(job) }, { status: 202 }) : notFound();
  });
