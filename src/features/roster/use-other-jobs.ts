'use client';

import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useState } from 'react';
import { isOver, type JobView } from '@/contract/jobs';
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
    const stop = listenToJobs((job) => {
      put(job);
      if (job.state === 'done' && !isOwn(job.id)) router.refresh();
    });
    void fetchJobs().then((found) => found.reverse().forEach(put));
    return stop;
  }, [put, isOwn, router]);
  const cancel = useCallback(
    async (id: string) => {
      const job = await send(`/api/jobs/${id}`, 'DELETE');
      if (job) put(job);
    },
    [put],
  );
  const retry = useCallback(
    async (id: string) => {
      const job = await send(`/api/jobs/${id}/retry`, 'POST');
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
  const lists = await Promise.all(
    ['queued', 'running', 'failed'].map(async (state) => {
      const response = await fetch(`/api/jobs?state=${state}`).catch(() => null);
      return response?.ok ? ((await response.json()) as { jobs: JobView[] }).jobs : [];
    }),
  );
  return lists.flat();
}

async function send(path: string, method: 'POST' | 'DELETE'): Promise<JobView | null> {
  const response = await fetch(path, { method }).catch(() => null);
  return response?.ok ? ((await response.json()) as { job: JobView | null }).job : null;
}
