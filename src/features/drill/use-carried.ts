'use client';

import { wrap, type Remote } from 'comlink';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Problem } from '@/core/errors/yarvo-error';
import type { FoundLoop } from '@/core/motion/edits/find-loop';
import type { DrillLimits } from '@/core/profile/drill-limits';
import type { DrillSource } from '@/workers/browser/drill-source';
import type { DrillJudged, DrillWatched } from '@/workers/browser/drill-judged';
import type { DrillBlock, DrillInfo, DrillTarget, DrillStance, DrillWorkerApi } from '@/workers/browser/drill.worker';

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
  /** What the first character does, as a motion file. */
  readonly keep: (name: string) => Promise<Uint8Array>;
  /** What the first character does in it, measured. */
  readonly judge: (limits: DrillLimits) => Promise<DrillJudged>;
  /** Its soles, slides and room alone, soon. */
  readonly watch: (limits: DrillLimits) => Promise<DrillWatched>;
  /** How the first character stands in a frame. */
  readonly stance: (frame: number) => Promise<DrillStance>;
  /** Spans that repeat themselves. */
  readonly loops: () => Promise<FoundLoop[]>;
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
  // Judging a long motion takes seconds, in which frames are still asked for: it has a thread of its own.
  const judge = useRef<{ thread: Worker; api: Remote<DrillWorkerApi> } | null>(null);
  const sent = useRef<DrillSource | null>(null);
  const gone = useRef(false);
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
      worker.current?.thread.terminate();
      worker.current = null;
      sent.current = null;
      judge.current?.thread.terminate();
      judge.current = null;
    };
  }, []);
  const open = useCallback(async ({ key, motionId, source, targets }: DrillRequest) => {
    worker.current ??= start();
    const { api } = worker.current;
    // A motion is made once for all poses that it is tried on.
    const answer = await api.open(sent.current === source ? null : source, targets);
    sent.current = answer.ok ? source : null;
    if (!answer.ok) return { key, problem: answer.problem };
    const carried: Carried = {
      key,
      motionId,
      info: answer.info,
      fetch: (from, count) => api.frames(from, count),
      file: () => api.file(),
      keep: (name) => api.keep(name),
      judge: async (limits) => {
        judge.current ??= start();
        await judge.current.api.open(source, targets.slice(0, 1));
        return judge.current.api.judge(limits);
      },
      watch: (limits) => api.watch(limits),
      stance: (frame) => api.stance(frame),
      loops: () => api.loops(),
    };
    return { carried };
  }, []);
  const latest = useRef(request);
  useEffect(() => {
    latest.current = request;
  }, [request]);
  const key = request?.key ?? null;
  const isBusy = useRef(false);
  useEffect(() => {
    if (key === null || isBusy.current) return;
    // One at a time, and then what is asked for by then: a slider asks faster than anything can be made.
    const next = async (): Promise<void> => {
      for (let wanted = latest.current; wanted;) {
        const { key: asked } = wanted;
        const answer = await open(wanted).catch((error: Error) => ({ key: asked, problem: unexpected(error) }));
        if (gone.current) return;
        setMade(answer);
        wanted = latest.current?.key === asked ? null : latest.current;
      }
    };
    isBusy.current = true;
    void next().finally(() => (isBusy.current = false));
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
