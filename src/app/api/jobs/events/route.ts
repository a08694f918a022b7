import { guarded } from '@/server/http/http';
import { jobStream } from '@/server/jobs/job-stream';

export const dynamic = 'force-dynamic';

/**
 * Jobs as they change, as server-sent events: `event: job`, each with the job as its data but for its result, which is
 * asked for. `Last-Event-ID` catches up; `event: missed` says that too much happened since.
 */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'jobs', () => {
    const headers = { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' };
    const body = jobStream(request.headers.get('last-event-id'), request.signal);
    return Promise.resolve(new Response(body, { headers }));
  });
