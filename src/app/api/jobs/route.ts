import { JobsQuery } from '@/contract/requests';
import { shownTexts } from '@/core/text/shown-text';
import { guarded, invalidRequest } from '@/server/http/http';
import { databaseQueue } from '@/server/jobs/database-queue';

/** Jobs without their results, newest first, at most 500: `{ jobs }`; `?state=`, `?kind=` and `?subject=` narrow them down. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'jobs', async () => {
    const query = JobsQuery.safeParse(Object.fromEntries(new URL(request.url).searchParams));
    if (!query.success) return invalidRequest(query.error.issues);
    const { state, ...rest } = query.data;
    const jobs = await databaseQueue.list({ ...rest, ...(state && { states: [state] }) });
    return Response.json({ jobs: shownTexts(jobs) });
  });
