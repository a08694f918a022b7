'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import type { Board, BOARD_FILTERS, BOARD_ORDERS, MotionOut } from '@/contract/board';
import { outcomeOf } from '@/contract/client';
import { isOver, type JobView } from '@/contract/jobs';
import type { Problem } from '@/core/errors/yarvo-error';
import { api } from '@/ui/api';
import { newId } from '@/ui/new-id';
import { fetchJob, listenToJobs } from '@/ui/jobs/job-stream';

/** Which characters the board is about, as its address says; all where it says nothing. */
export interface BoardChoice {
  readonly characters?: readonly string[];
  readonly selection?: string;
}

/** What of the board is looked at. */
export interface BoardView {
  readonly page: number;
  readonly order: (typeof BOARD_ORDERS)[number];
  readonly filter: (typeof BOARD_FILTERS)[number];
}

export interface BoardHandle {
  readonly board: Board;
  readonly view: BoardView;
  readonly look: (view: Partial<BoardView>) => void;
  /** Work on the board that is not over, and what was over since the page was opened. */
  readonly jobs: readonly JobView[];
  readonly problem: Problem | null;
  readonly dismissProblem: () => void;
  readonly dismiss: (jobId: string) => void;
  /** @param characterIds null for all of the board. */
  readonly carry: (characterIds: readonly string[] | null, motionKeys: readonly string[]) => Promise<void>;
  /** @returns whether it was queued. */
  readonly writeOut: (wanted: MotionOut) => Promise<boolean>;
  readonly cancel: (jobId: string) => Promise<void>;
  /** How a call names the characters that are meant. @param ids null for all of the board. */
  readonly chosen: (ids: readonly string[] | null) => Pick<MotionOut, 'characterIds' | 'selection'>;
}

/** Cells come in one by one; the board is fetched this often at most. */
const REFETCH_MS = 700;

/** The board as it stands, live. */
export function useBoard(given: Board, { characters, selection }: BoardChoice): BoardHandle {
  const [board, setBoard] = useState(given);
  const [jobs, setJobs] = useState<readonly JobView[]>(given.jobs);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [view, setView] = useState<BoardView>({ page: given.page, order: 'name', filter: 'all' });
  const { page, order, filter } = view;
  const named = characters?.join(',');
  const isFirst = useRef(true);
  const seen = useCallback((job: JobView) => setJobs((known) => [job, ...known.filter(({ id }) => id !== job.id)]), []);
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const fetchBoard = useCallback(async () => {
    const query = { page, order, filter, ...(named && { characters: named }), ...(selection && { selection }) };
    const outcome = await outcomeOf(api.GET('/api/board', { params: { query } }), 'board');
    if (outcome.ok) setBoard(outcome.data);
    else setProblem(outcome.problem);
  }, [named, selection, page, order, filter]);
  useEffect(() => {
    // The page came with the first one.
    if (!isFirst.current) void fetchBoard();
    isFirst.current = false;
  }, [fetchBoard]);
  useEffect(() => {
    const stop = listenToJobs((job) => {
      if (job.kind !== 'carry' && job.kind !== 'motion-out') return;
      if (isOver(job)) void fetchJob(job.id).then((whole) => whole && seen(whole));
      else seen(job);
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
  }, [fetchBoard, seen]);
  const chosen = (ids: readonly string[] | null) =>
    ids ? { characterIds: [...ids] } : characters ? { characterIds: [...characters] } : selection ? { selection } : {};
  return {
    board,
    view,
    look: (wanted) => setView((known) => ({ ...known, page: 1, ...wanted })),
    jobs,
    problem,
    chosen,
    dismissProblem: () => setProblem(null),
    dismiss: (jobId) => setJobs((known) => known.filter(({ id }) => id !== jobId)),
    carry: async (characterIds, motionKeys) => {
      const body = { ...chosen(characterIds), motionKeys: [...motionKeys], jobId: newId() };
      const outcome = await outcomeOf(api.POST('/api/board', { body }), 'board');
      if (outcome.ok) seen(outcome.data.job);
      else setProblem(outcome.problem);
    },
    writeOut: async (wanted) => {
      const outcome = await outcomeOf(api.POST('/api/motions/out', { body: { ...wanted, jobId: newId() } }), 'motions');
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
