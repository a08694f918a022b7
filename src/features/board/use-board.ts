'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import type { Board, MotionOut } from '@/contract/board';
import { outcomeOf } from '@/contract/client';
import { isOver, type JobView } from '@/contract/jobs';
import type { Problem } from '@/core/errors/yarvo-error';
import { api } from '@/ui/api';
import { listenToJobs } from '@/ui/jobs/job-stream';

export interface BoardHandle {
  readonly board: Board;
  /** Work on the board that is not over, and what was over since the page was opened. */
  readonly jobs: readonly JobView[];
  readonly problem: Problem | null;
  readonly dismissProblem: () => void;
  readonly dismiss: (jobId: string) => void;
  readonly carry: (characterIds: readonly string[], motionKeys: readonly string[]) => Promise<void>;
  /** @returns whether it was queued. */
  readonly writeOut: (wanted: MotionOut) => Promise<boolean>;
  readonly cancel: (jobId: string) => Promise<void>;
}

/** Cells come in one by one; the board is fetched this often at most. */
const REFETCH_MS = 700;

/** The board as it stands, live. @param characters ids joined by commas, as the address has them; null for all. */
export function useBoard(given: Board, characters: string | null): BoardHandle {
  const [board, setBoard] = useState(given);
  const [jobs, setJobs] = useState<readonly JobView[]>(given.jobs);
  const [problem, setProblem] = useState<Problem | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const fetchBoard = useCallback(async () => {
    const query = characters === null ? {} : { characters };
    const outcome = await outcomeOf(api.GET('/api/board', { params: { query } }), 'board');
    if (outcome.ok) setBoard(outcome.data);
    else setProblem(outcome.problem);
  }, [characters]);
  useEffect(() => {
    const stop = listenToJobs((job) => {
      if (job.kind !== 'carry' && job.kind !== 'motion-out') return;
      setJobs((known) => [job, ...known.filter(({ id }) => id !== job.id)]);
      timer.current ??= setTimeout(() => {
        timer.current = null;
        void fetchBoard();
      }, REFETCH_MS);
    });
    return () => {
      stop();
      if (timer.current) clearTimeout(timer.current);
      timer.current = null;
    };
  }, [fetchBoard]);
  const seen = (job: JobView) => setJobs((known) => [job, ...known.filter(({ id }) => id !== job.id)]);
  return {
    board,
    jobs,
    problem,
    dismissProblem: () => setProblem(null),
    dismiss: (jobId) => setJobs((known) => known.filter(({ id }) => id !== jobId)),
    carry: async (characterIds, motionKeys) => {
      const body = { characterIds: [...characterIds], motionKeys: [...motionKeys] };
      const outcome = await outcomeOf(api.POST('/api/board', { body }), 'board');
      if (outcome.ok) seen(outcome.data.job);
      else setProblem(outcome.problem);
    },
    writeOut: async (wanted) => {
      const outcome = await outcomeOf(api.POST('/api/motions/out', { body: wanted }), 'motions');
      if (outcome.ok) seen(outcome.data.job);
      else setProblem(outcome.problem);
      return outcome.ok;
    },
    cancel: async (jobId) => {
      const outcome = await outcomeOf(api.DELETE('/api/jobs/{jobId}', { params: { path: { jobId } } }), 'job');
      if (!outcome.ok) setProblem(outcome.problem);
      else if (outcome.data.job && isOver(outcome.data.job)) seen(outcome.data.job);
    },
  };
}
