import { setTimeout as wait } from 'node:timers/promises';
import type { Transaction } from 'sequelize';
import { database } from './connection';
import { isAway, isStandstill } from './database-problem';
import { driverErrorOf } from './driver-error';

/** Tries of one transaction that others got in the way of. Twenty uploads of one name at once need as many. */
const MOST_TRIES = 25;
const PAUSE_MS = 15;
/** Unique keys that a transaction picks a free value for: taken meanwhile means another try, not a failure. */
const PICKED_KEYS = ['character_names', 'handoff_versions', 'motions_by_clip_key'];

/** A database that restarts is back within seconds. */
const AWAY_PATIENCE_MS = 20_000;
const AWAY_PAUSE_MS = 250;

/**
 * Runs `work` in a transaction, again where the database ended it in favour of another one (deadlock, lock wait), where
 * a value that it had picked as free was taken meanwhile, or where the database went away before the work was done.
 * `work` must do nothing that outlives a rollback. A connection lost while committing is never tried again: nobody
 * knows then whether the work is kept.
 */
export async function inTransaction<Value>(work: (transaction: Transaction) => Promise<Value>): Promise<Value> {
  const awayUntil = performance.now() + AWAY_PATIENCE_MS;
  for (let attempt = 1; ; attempt++) {
    let isCommitting = false;
    try {
      return await database().transaction(async (transaction) => {
        const value = await work(transaction);
        isCommitting = true;
        return value;
      });
    } catch (error) {
      // One that stands still has been waited for already.
      const isWaiting = !isCommitting && isAway(error) && !isStandstill(error) && performance.now() < awayUntil;
      if (!isWaiting && (attempt >= MOST_TRIES || !isWorthAnotherTry(error))) throw error;
      await wait(isWaiting ? AWAY_PAUSE_MS : PAUSE_MS * attempt * (0.5 + Math.random()));
    }
  }
}

function isWorthAnotherTry(error: unknown): boolean {
  const { code, sqlMessage = '' } = driverErrorOf(error) ?? {};
  if (code === 'ER_LOCK_DEADLOCK' || code === 'ER_LOCK_WAIT_TIMEOUT' || code === 'ER_CHECKREAD') return true;
  return code === 'ER_DUP_ENTRY' && PICKED_KEYS.some((key) => sqlMessage.includes(key));
}
