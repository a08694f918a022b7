'use client';

import { useCallback, useEffect, useState } from 'react';
import { outcomeOf } from '@/contract/client';
import type { z } from 'zod';
import type { HouseChoice, MotionChange, MotionList, MotionView, ShelveBody } from '@/contract/motions';
import type { Problem } from '@/core/errors/yarvo-error';
import { api } from '@/ui/api';
import { newId } from '@/ui/new-id';
import { postFile } from '@/ui/post-file';

export interface Shelf {
  /** Null until it was fetched. */
  readonly list: MotionList | null;
  readonly problem: Problem | null;
  readonly dismiss: () => void;
  readonly reload: () => Promise<void>;
  /** Puts clips of a character on the shelf. */
  readonly shelve: (characterId: string, clips?: readonly number[]) => Promise<readonly MotionView[]>;
  /** Puts a motion of the house set on the shelf, under a name. */
  readonly shelveHouse: (house: HouseChoice, name: string) => Promise<readonly MotionView[]>;
  /** Puts a copy of a motion beside it, to be edited for itself. */
  readonly copy: (motion: MotionView) => Promise<readonly MotionView[]>;
  /** Keeps a motion file under a name. */
  readonly keep: (bytes: Uint8Array, name: string) => Promise<MotionView | null>;
  readonly change: (motion: MotionView, change: MotionChange) => Promise<void>;
  /** While a change is on its way: a further one would be made on what is no longer there. */
  readonly isChanging: boolean;
}

/** The studio's motions, and what is done with them. @param given as the page brought it; fetched where it brought none. */
export function useShelf(given: MotionList | null = null): Shelf {
  const [list, setList] = useState(given);
  const [problem, setProblem] = useState<Problem | null>(null);
  const [isChanging, setChanging] = useState(false);
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
  const post = useCallback(
    async (body: z.input<typeof ShelveBody>) => {
      const outcome = await outcomeOf(api.POST('/api/motions', { body: { ...body, callId: newId() } }), 'motions');
      if (!outcome.ok) {
        setProblem(outcome.problem);
        return [];
      }
      await reload();
      return outcome.data.motions;
    },
    [reload],
  );
  const shelve = useCallback(
    (characterId: string, clips?: readonly number[]) => post({ characterId, ...(clips && { clips: [...clips] }) }),
    [post],
  );
  const shelveHouse = useCallback((house: HouseChoice, name: string) => post({ house, name }), [post]);
  const copy = useCallback(({ id }: MotionView) => post({ copyOf: id }), [post]);
  const keep = useCallback(
    async (bytes: Uint8Array, name: string) => {
      const outcome = await outcomeOf(
        postFile<{ motion: MotionView }>(`/api/motions/kept?name=${encodeURIComponent(name)}&callId=${newId()}`, bytes),
        'motion',
      );
      if (!outcome.ok) {
        setProblem(outcome.problem);
        return null;
      }
      await reload();
      return outcome.data.motion;
    },
    [reload],
  );
  const change = useCallback(
    async ({ id, revision }: MotionView, wanted: MotionChange) => {
      const call = api.POST('/api/motions/{motionId}', {
        params: { path: { motionId: id } },
        body: { baseRevision: revision, change: wanted },
      });
      setChanging(true);
      const outcome = await outcomeOf(call, 'motion');
      if (!outcome.ok) setProblem(outcome.problem);
      await reload();
      setChanging(false);
    },
    [reload],
  );
  const dismiss = () => setProblem(null);
  return { list, problem, dismiss, reload, shelve, shelveHouse, copy, keep, change, isChanging };
}
