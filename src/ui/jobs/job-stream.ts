import { outcomeOf } from '@/contract/client';
import { api } from '../api';
import { isOver, type JobView } from '@/contract/jobs';

type Listener = (job: JobView) => void;

/** Where the stream is cut off, jobs are asked for this often. */
const LOOK_MS = 3_000;

let source: EventSource | null = null;
const listeners = new Set<Listener>();
const whenMissed = new Set<() => void>();

/**
 * Tells of every job that changes, for as long as somebody listens; what it made is asked for with `fetchJob`.
 * @param onMissed called where the stream was cut off for so long that changes are missing.
 * @returns how to stop.
 */
export function listenToJobs(listen: Listener, onMissed: () => void = () => undefined): () => void {
  listeners.add(listen);
  whenMissed.add(onMissed);
  if (!source) {
    source = new EventSource('/api/jobs/events');
    source.addEventListener('job', (event) => {
      const job = JSON.parse((event as MessageEvent<string>).data) as JobView;
      for (const known of [...listeners]) known(job);
    });
    source.addEventListener('missed', () => {
      for (const known of [...whenMissed]) known();
    });
  }
  return () => {
    listeners.delete(listen);
    whenMissed.delete(onMissed);
    if (listeners.size > 0) return;
    source?.close();
    source = null;
  };
}

/** A job as it is now; null where the server does not answer or does not know it. */
export async function fetchJob(jobId: string): Promise<JobView | null> {
  const outcome = await outcomeOf(api.GET('/api/jobs/{jobId}', { params: { path: { jobId } } }), 'job');
  return outcome.ok ? outcome.data.job : null;
}

/**
 * Waits until a job is over. What the stream misses, while it reconnects, is asked for.
 * @param onChange each time it is told of before that.
 */
export function untilOver(id: string, onChange: Listener = () => undefined): Promise<JobView> {
  return new Promise((resolve) => {
    let isSettled = false;
    const hear = (job: JobView) => {
      // What it made is not told of.
      if (job.id === id && isOver(job)) look();
      else if (job.id === id && !isSettled) onChange(job);
    };
    const see = (job: JobView | null) => {
      // An answer that was asked for may come after the stream has said more.
      if (job?.id !== id || isSettled) return;
      if (!isOver(job)) return onChange(job);
      isSettled = true;
      clearInterval(timer);
      stop();
      resolve(job);
    };
    const look = () => void fetchJob(id).then(see);
    const stop = listenToJobs(hear, look);
    const timer = setInterval(look, LOOK_MS);
    look();
  });
}
