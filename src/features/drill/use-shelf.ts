'use client';

import { useCallback, useEffect, useState } from 'react';
import { outcomeOf } from '@/contract/client';
import type { MotionChange, MotionList, MotionView } from '@/contract/motions';
import type { Problem } from '@/core/errors/yarvo-error';
import { api } from '@/ui/api';

export interface Shelf {
  /** Null until it was fetched. */
  readonly list: MotionList | null;
  readonly problem: Problem | null;
  readonly dismiss: () => void;
  readonly reload: () => Promise<void>;
  /** Puts clips of a character on the shelf. */
  readonly shelve: (characterId: string, clips?: readonly number[]) => Promise<readonly MotionView[]>;
  readonly change: (motion: MotionView, change: MotionChange) => Promise<void>;
}

/** The studio's motions, and what is done with them. @param given as the page brought it; fetched where it brought none. */
export function useShelf(given: MotionList | null = null): Shelf {
  const [list, setList] = useState(given);
  const [problem, setProblem] = useState<Problem | null>(null);
  const reload = useCallback(async () => {
    const outcome = await outcomeOf(api.GET('/api/motions'), 'motions');
    if (outcome.ok) setList(outcome.data);
    else setProblem(outcome.problem);
  }, []);
  useEffect(() => {
    if (given) return;
    let isGone = false;
    void outcomeOf(api.GET('/api/motions'), 'motions').then((outcome) => {
      if (isGone) return;
      if (outcome.ok) setList(outcome.data);
      else setProblem(outcome.problem);
    });
    return () => {
      isGone = true;
    };
  }, [given]);
  const shelve = useCallback(
    async (characterId: string, clips?: readonly number[]) => {
      const body = { characterId, ...(clips && { clips: [...clips] }) };
      const outcome = await outcomeOf(api.POST('/api/motions', { body }), 'motions');
      if (!outcome.ok) {
        setProblem(outcome.problem);
        return [];
      }
      await reload();
      return outcome.data.motions;
    },
    [reload],
  );
  const change = useCallback(
    async ({ id, revision }: MotionView, wanted: MotionChange) => {
      const call = api.POST('/api/motions/{motionId}', {
        params: { path: { motionId: id } },
        body: { baseRevision: revision, change: wanted },
      });
      const outcome = await outcomeOf(call, 'motion');
      if (!outcome.ok) setProblem(outcome.problem);
      await reload();
    },
    [reload],
  );
  return { list, problem, dismiss: () => setProblem(null), reload, shelve, change };
}
