import { statfs } from 'node:fs/promises';
import { setTimeout as wait } from 'node:timers/promises';
import type { DatabaseStatus } from '@/server/database/database-status';
import { startPrivateDatabase } from '@/server/database/private-server';
import { log } from '@/server/log/logger';
import { BackOff } from './back-off';
import { sentenceOf } from './start-error';

export interface KeptDatabase {
  readonly host: string;
  readonly port: number;
  readonly password: string;
  stop(): Promise<void>;
}

export interface KeepDatabaseOptions {
  readonly data: string;
  readonly say: (text: string) => void;
  /** Told whenever what is known of the database changes; null while it is there. */
  readonly onStatus: (status: DatabaseStatus | null) => void;
}

/** With less room than this a database cannot even recover. */
const LEAST_ROOM_BYTES = 32 * 1024 * 1024;
const LOOK_MS = 1_000;

/**
 * A database of our own, started again on the same port whenever it ends by itself, for as long as it takes: a full
 * disk may be cleared at any time.
 * @throws {Error} where it does not start the first time.
 */
export async function keepDatabase({ data, say, onStatus }: KeepDatabaseOptions): Promise<KeptDatabase> {
  let current = await startPrivateDatabase(data);
  const { port, password } = current;
  let isStopping = false;

  /** Starts it until it runs, or until nobody wants it any more. */
  const startAgain = async (since: string, backOff: BackOff, ranMs: number): Promise<void> => {
    let lastWords = current.lastWords();
    let pauseMs = backOff.next(ranMs);
    while (!isStopping) {
      const isDiskFull = !(await hasRoom(data));
      onStatus({ since, doing: doingText(isDiskFull, backOff.count), isDiskFull, lastWords });
      // On a full disk it would hang in the middle of its start.
      await wait(isDiskFull ? LOOK_MS : pauseMs);
      if (isDiskFull || isStopping) continue;
      pauseMs = backOff.next(0);
      try {
        current = await startPrivateDatabase(data, { port });
        return;
      } catch (error) {
        log().error({ err: error }, 'the database did not start');
        lastWords = [sentenceOf(error)];
      }
    }
  };

  const watch = async (): Promise<void> => {
    const backOff = new BackOff();
    while (!isStopping) {
      const started = Date.now();
      await current.ended;
      if (isStopping) return;
      say('the database ended; starting it again');
      log().error({ lastWords: current.lastWords() }, 'the database ended');
      await startAgain(new Date().toISOString(), backOff, Date.now() - started);
      if (isStopping) return;
      onStatus(null);
      log().info({ pid: current.pid }, 'the database is back');
      say('the database is back');
    }
  };

  const watching = watch();
  return {
    host: '127.0.0.1',
    port,
    password,
    stop: async () => {
      isStopping = true;
      await current.stop();
      await watching;
      // It may have been started once more in the meantime.
      await current.stop();
    },
  };
}

async function hasRoom(data: string): Promise<boolean> {
  const { bavail, bsize } = await statfs(data);
  return bavail * bsize >= LEAST_ROOM_BYTES;
}

function doingText(isDiskFull: boolean, tries: number): string {
  if (isDiskFull) return 'Its disk is full: make room on it, and Yarvo starts the database again by itself.';
  return tries < 2 ? 'Yarvo is starting it again.' : 'It did not start; Yarvo tries again every few seconds.';
}
