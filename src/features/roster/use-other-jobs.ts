'use client';

import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useState } from 'react';
import { isOver, type JobView } from '@/contract/jobs';
import { outcomeOf } from '@/contract/client';
import { api } from '@/ui/api';
import { listenToJobs } from '@/ui/jobs/job-stream';

/** A failed job is shown this long after. */
const SHOWN_FOR_MS = 60 * 60_000;

/** Work that goes on or failed and that this page did not start: of other people, or from before a reload. */
export function useOtherJobs(isOwn: (jobId: string) => boolean) {
  const router = useRouter();
  const [jobs, setJobs] = useState<readonly JobView[]>([]);
  const put = useCallback(
    (job: JobView) =>
      setJobs((list) => {
        const others = list.filter(({ id }) => id !== job.id);
        return isShown(job) && !isOwn(job.id) ? [job, ...others] : others;
      }),
    [isOwn],
  );
  useEffect(() => {
    const look = () => void fetchJobs().then((found) => found.reverse().forEach(put));
    const stop = listenToJobs((job) => {
      put(job);
      if (job.state === 'done' && !isOwn(job.id)) router.refresh();
    }, look);
    look();
    return stop;
  }, [put, isOwn, router]);
  const cancel = useCallback(
    async (id: string) => {
      const job = await cancelJob(id);
      if (job) put(job);
    },
    [put],
  );
  const retry = useCallback(
    async (id: string) => {
      const job = await retryJob(id);
      if (job) put(job);
    },
    [put],
  );
  const dismiss = useCallback((id: string) => setJobs((list) => list.filter((job) => job.id !== id)), []);
  return { jobs, cancel, retry, dismiss };
}

const isShown = (job: JobView): boolean =>
  !isOver(job) || (job.state === 'failed' && Date.now() - Date.parse(job.updatedAt) < SHOWN_FOR_MS);

async function fetchJobs(): Promise<JobView[]> {
  const states = ['queued', 'running', 'failed'] as const;
  const lists = await Promise.all(
    states.map(async (state) => {
      const outcome = await outcomeOf(api.GET('/api/jobs', { params: { query: { state } } }), 'jobs');
      return outcome.ok ? outcome.data.jobs : [];
    }),
  );
  return lists.flat();
}

async function cancelJob(jobId: string): Promise<JobView | null> {
  const outcome = await outcomeOf(api.DELETE('/api/jobs/{jobId}', { params: { path: { jobId } } }), 'jobs');
  return outcome.ok ? outcome.data.job : null;
}

async function retryJob(jobId: string): Promise<JobView | null> {
  const outcome = await outcomeOf(api.POST('/api/jobs/{jobId}/retry', { params: { path: { jobId } } }), 'jobs');
  return outcome.ok ? outcome.data.job : null;
}
