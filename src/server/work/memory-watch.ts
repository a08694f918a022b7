/** Often enough that a worker which allocates as fast as it can gets no further than a few hundred megabytes. */
const LOOK_MS = 50;
/** What the process may take beside its workers' limits: pages, the database's answers, bundles. */
const HEADROOM_BYTES = 1024 * 1024 * 1024;

interface Watch {
  /** Aborts when the process holds more than all its workers together may. */
  readonly signal: AbortSignal;
  stop(): void;
}

/**
 * The last line of defence: readers count what they allocate, but what a library allocates for them shows only in the
 * memory of the whole process. Where that passes the limit, all files being read at that moment are given up.
 *
 * @param megabytes limit of all workers together.
 * @param residentBytes memory of the process, for tests.
 */
export function watchMemory(megabytes: number, residentBytes: () => number = () => process.memoryUsage.rss()): Watch {
  const abort = new AbortController();
  const limitBytes = megabytes * 1024 * 1024 + HEADROOM_BYTES;
  const timer = setInterval(() => {
    if (residentBytes() > limitBytes) abort.abort();
  }, LOOK_MS);
  timer.unref();
  return { signal: abort.signal, stop: () => clearInterval(timer) };
}
