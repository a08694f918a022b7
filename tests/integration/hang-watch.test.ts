import { describe, expect, it, vi } from 'vitest';
import { HANG_TIMES, untilItHangs, type HangTimes } from '@/cli/serve/hang-watch';

/** The times of the real one, a hundredth of them. */
const TIMES: HangTimes = { everyMs: 30, patienceMs: 90, misses: 3, stepMs: 5 };
const NEVER = (signal: AbortSignal) =>
  new Promise<boolean>((resolve) => signal.addEventListener('abort', () => resolve(false)));
const within = async (work: Promise<boolean>, ms: number): Promise<boolean | 'goes on'> =>
  Promise.race([work, new Promise<'goes on'>((resolve) => setTimeout(() => resolve('goes on'), ms))]);

describe('a process that is watched', () => {
  it('is found to hang after three misses, within thirty seconds of its running time', async () => {
    let asked = 0;
    const hangs = untilItHangs(
      { ask: (signal) => (asked++, NEVER(signal)), isStopped: () => false },
      new AbortController().signal,
      TIMES,
    );
    expect(await hangs).toBe(true);
    expect(asked).toBe(3);
    expect(HANG_TIMES.patienceMs * HANG_TIMES.misses + HANG_TIMES.everyMs).toBeLessThanOrEqual(30_000);
  });

  it('that is stopped for long does not hang, nor does one that answers again before the third miss', async () => {
    const stop = new AbortController();
    let isStopped = true;
    const watch = untilItHangs({ ask: NEVER, isStopped: () => isStopped }, stop.signal, TIMES);
    expect(await within(watch, 1_500)).toBe('goes on');
    // From here on it runs and does not answer.
    isStopped = false;
    expect(await watch).toBe(true);
    let asked = 0;
    const often = untilItHangs(
      { ask: (signal) => (++asked % 3 === 0 ? Promise.resolve(true) : NEVER(signal)), isStopped: () => false },
      stop.signal,
      TIMES,
    );
    expect(await within(often, 1_500)).toBe('goes on');
    stop.abort();
    expect(await often).toBe(false);
  });

  it('is not taken for hanging by a jump of the clock', async () => {
    const stop = new AbortController();
    const watch = untilItHangs({ ask: () => Promise.resolve(true), isStopped: () => false }, stop.signal, TIMES);
    const now = vi.spyOn(Date, 'now').mockReturnValue(Date.now() + 86_400_000);
    expect(await within(watch, 300)).toBe('goes on');
    now.mockReturnValue(0);
    expect(await within(watch, 300)).toBe('goes on');
    now.mockRestore();
    stop.abort();
  });
});
