import { guarded } from '@/server/http/http';
import { onJob } from '@/server/jobs/job-events';
import { jobView } from '@/server/jobs/job-view';

/** Proxies and browsers give up on a stream that says nothing. */
const PING_MS = 15_000;

export const dynamic = 'force-dynamic';

/** Jobs as they change, as server-sent events: `event: job`, each with the job as its data. */
export const GET = (request: Request): Promise<Response> =>
  guarded(request, 'jobs', () => {
    const encoder = new TextEncoder();
    let stop = () => undefined as void;
    const body = new ReadableStream<Uint8Array>({
      start(controller) {
        const send = (text: string) => controller.enqueue(encoder.encode(text));
        const stopListening = onJob((job) => send(`event: job\ndata: ${JSON.stringify(jobView(job))}\n\n`));
        const ping = setInterval(() => send(': still here\n\n'), PING_MS);
        stop = () => {
          stopListening();
          clearInterval(ping);
        };
        request.signal.addEventListener('abort', stop, { once: true });
        send(': listening\n\n');
      },
      cancel: () => stop(),
    });
    const headers = { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' };
    return Promise.resolve(new Response(body, { headers }));
  });
