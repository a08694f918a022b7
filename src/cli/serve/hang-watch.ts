import { setTimeout as wait } from 'node:timers/promises';

/** How the process that is watched is asked, and what is known of it beside its answers. */
export interface HangSubject {
  /** Asks it for a sign of life; resolves with whether it gave one before the signal. */
  readonly ask: (signal: AbortSignal) => Promise<boolean>;
  /** Whether it is stopped (SIGSTOP, a debugger): then it cannot answer, and does not hang. */
  readonly isStopped: () => boolean;
}

export interface HangTimes {
  /** Between an answer and the next question. */
  readonly everyMs: number;
  /** For an answer, while the process runs. */
  readonly patienceMs: number;
  /** Misses in a row that mean that it hangs. */
  readonly misses: number;
  /** The watcher's own steps: one that takes much longer says that the machine, or the watcher, was stopped. */
  readonly stepMs: number;
}

/** Three misses come within 27 s of running time. */
export const HANG_TIMES: HangTimes = { everyMs: 3_000, patienceMs: 9_000, misses: 3, stepMs: 500 };

/** A step of the watcher that took this many times as long as it should is not counted. */
const LATE = 3;

/**
 * Resolves once a process hangs: it runs and gives no sign of life, several times in a row. Only time in which it runs is
 * counted, in steps of a monotonic clock: neither a stopped process nor a jump of the machine's clock is a hang, and one
 * that is merely slow answers late.
 *
 * @param signal ends the watch: the process is over.
 * @returns whether it hangs; false where the watch ended.
 */
export async function untilItHangs(
  { ask, isStopped }: HangSubject,
  signal: AbortSignal,
  times: HangTimes = HANG_TIMES,
): Promise<boolean> {
  let misses = 0;
  while (!signal.aborted) {
    if (await isMissed({ ask, isStopped }, signal, times)) misses++;
    else misses = 0;
    if (signal.aborted) return false;
    if (misses >= times.misses) return true;
    if (misses === 0) await wait(times.everyMs, undefined, { signal }).catch(() => undefined);
  }
  return false;
}

/** One question, waited for as long as the process has run for its patience. */
async function isMissed({ ask, isStopped }: HangSubject, signal: AbortSignal, times: HangTimes): Promise<boolean> {
  const { patienceMs, stepMs } = times;
  const giveUp = new AbortController();
  let answer: boolean | null = null;
  void ask(AbortSignal.any([signal, giveUp.signal])).then(
    (isAlive) => (answer = isAlive),
    () => (answer = false),
  );
  let ranMs = 0;
  while (answer !== true && ranMs < patienceMs && !signal.aborted) {
    const started = performance.now();
    await wait(stepMs, undefined, { signal }).catch(() => undefined);
    const tookMs = performance.now() - started;
    if (tookMs < stepMs * LATE && !isStopped()) ranMs += tookMs;
    // It refused: it is asked again, and the time goes on.
    if (answer === false && ranMs < patienceMs && !signal.aborted) {
      answer = null;
      void ask(AbortSignal.any([signal, giveUp.signal])).then(
        (isAlive) => (answer = isAlive),
        () => (answer = false),
      );
    }
  }
  giveUp.abort();
  return answer !== true && !signal.aborted;
}
