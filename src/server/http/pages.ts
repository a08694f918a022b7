import { setTimeout as wait } from 'node:timers/promises';
import { isAway } from '../database/database-problem';
import { isDatabaseThere } from '../database/watch-database';

/** A page that takes longer than this is looked after: it may wait for a database that stands still. */
const SLOW_MS = 1_000;

/** What a page needs, or null while the database is away or stands still; anything else that fails is the page's error. */
export async function whileDatabaseIsThere<Value>(
  read: () => Promise<Value>,
): Promise<{ readonly value: Value } | null> {
  const leaving = new AbortController();
  const reading = read().then(
    (value) => ({ value }),
    (error: unknown) => {
      if (isAway(error)) return null;
      throw error;
    },
  );
  try {
    return await Promise.race([reading, whenStandingStill(leaving.signal)]);
  } finally {
    leaving.abort();
    // Given up, it may fail later and concerns nobody.
    reading.catch(() => undefined);
  }
}

/** Resolves with null once the database does not answer; never while it does. */
async function whenStandingStill(signal: AbortSignal): Promise<null> {
  for (;;) {
    await wait(SLOW_MS, undefined, { signal }).catch(() => undefined);
    if (signal.aborted) return new Promise<null>(() => undefined);
    if (!(await isDatabaseThere())) return null;
  }
}
