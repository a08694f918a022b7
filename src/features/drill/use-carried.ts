'use client';

import { wrap, type Remote } from 'comlink';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Problem } from '@/core/errors/yarvo-error';
import type { DrillBlock, DrillInfo, DrillSource, DrillTarget, DrillWorkerApi } from '@/workers/browser/drill.worker';

/** What is asked to be played. */
export interface DrillRequest {
  /** Says what the result hangs on, in one word. */
  readonly key: string;
  /** Which motion it is, however often it is made again. */
  readonly motionId: string;
  readonly source: DrillSource;
  readonly targets: readonly DrillTarget[];
}

export interface Carried {
  readonly key: string;
  readonly motionId: string;
  readonly info: DrillInfo;
  readonly fetch: (from: number, count: number) => Promise<DrillBlock>;
  /** The motion as a file (docs/formats.md). */
  readonly file: () => Promise<Uint8Array>;
}

export interface CarriedState {
  /** What was made last; it may be older than what is asked for. */
  readonly carried: Carried | null;
  /** Whether it is being made again, since the motion, the fit or a layer changed. */
  readonly isOld: boolean;
  readonly problem: Problem | null;
}

/**
 * Carries a motion in a worker, again whenever something that it is made from changes. Until it is there the one before
 * stays, marked as old.
 */
export function useCarried(request: DrillRequest | null): CarriedState {
  const [made, setMade] = useState<
    { readonly carried: Carried } | { readonly key: string; readonly problem: Problem } | null
  >(null);
  const worker = useRef<{ thread: Worker; api: Remote<DrillWorkerApi> } | null>(null);
  useEffect(
    () => () => {
      worker.current?.thread.terminate();
      worker.current = null;
    },
    [],
  );
  const open = useCallback(async ({ key, motionId, source, targets }: DrillRequest) => {
    worker.current ??= start();
    const { api } = worker.current;
    const answer = await api.open(source, targets);
    if (!answer.ok) return { key, problem: answer.problem };
    const carried: Carried = {
      key,
      motionId,
      info: answer.info,
      fetch: (from, count) => api.frames(from, count),
      file: () => api.file(),
    };
    return { carried };
  }, []);
  const latest = useRef(request);
  useEffect(() => {
    latest.current = request;
  }, [request]);
  const key = request?.key ?? null;
  useEffect(() => {
    const wanted = latest.current;
    if (key === null || !wanted) return;
    let isGone = false;
    open(wanted).then(
      (answer) => {
        if (!isGone) setMade(answer);
      },
      (error: Error) => {
        if (!isGone) setMade({ key, problem: unexpected(error) });
      },
    );
    return () => {
      isGone = true;
    };
  }, [key, open]);
  if (!made) return { carried: null, isOld: key !== null, problem: null };
  if ('problem' in made)
    return { carried: null, isOld: made.key !== key, problem: made.key === key ? made.problem : null };
  return { carried: made.carried, isOld: made.carried.key !== key, problem: null };
}

const unexpected = (error: Error): Problem => ({
  code: 'unexpected',
  message: error.message,
  place: 'motion',
  remedy: 'Choose the motion again; if it returns, the file triggers a fault in Yarvo.',
});

function start() {
  const thread = new Worker(new URL('../../workers/browser/drill.worker.ts', import.meta.url), { type: 'module' });
  return { thread, api: wrap<DrillWorkerApi>(thread) };
}
