import { rm } from 'node:fs/promises';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { writeDatabaseStatus } from '@/server/database/database-status';
import { startPrivateDatabase, type PrivateDatabase } from '@/server/database/private-server';
import { log } from '@/server/log/logger';
import { BackOff } from './back-off';
import { sentenceOf } from './start-error';

export interface KeptDatabase {
  readonly host: string;
  readonly port: number;
  readonly password: string;
  /** Where the web server reads what is known of a database that is away. */
  readonly statusFile: string;
  stop(): Promise<void>;
}

/**
 * A database of our own, started again on the same port whenever it ends by itself, for as long as it takes: a full
 * disk may be cleared at any time.
 * @throws {Error} where it does not start the first time.
 */
export async function keepDatabase(data: string, say: (text: string) => void): Promise<KeptDatabase> {
  const statusFile = path.join(data, 'database-away.json');
  await rm(statusFile, { force: true });
  let current = await startPrivateDatabase(data);
  const { port, password } = current;
  let isStopping = false;

  const watch = async (database: PrivateDatabase): Promise<void> => {
    const backOff = new BackOff();
    let started = Date.now();
    for (let running: PrivateDatabase | null = database; !isStopping; ) {
      await running?.ended;
      if (isStopping) return;
      const lastWords = running?.lastWords() ?? [];
      const since = new Date().toISOString();
      const pauseMs = backOff.next(Date.now() - started);
      if (running) say('the database ended; starting it again');
      log().error({ lastWords, tries: backOff.count }, 'the database ended');
      await writeDatabaseStatus(statusFile, { since, doing: doingText(backOff.count), lastWords: [...lastWords] });
      await wait(pauseMs);
      if (isStopping) return;
      started = Date.now();
      running = await startAgain(statusFile, since);
    }
  };

  const startAgain = async (file: string, since: string): Promise<PrivateDatabase | null> => {
    try {
      current = await startPrivateDatabase(data, { port });
      await rm(file, { force: true });
      log().info({ pid: current.pid }, 'the database is back');
      say('the database is back');
      return current;
    } catch (error) {
      log().error({ err: error }, 'the database did not start');
      await writeDatabaseStatus(file, { since, doing: doingText(2), lastWords: [sentenceOf(error)] });
      return null;
    }
  };

  const watching = watch(current);
  return {
    host: '127.0.0.1',
    port,
    password,
    statusFile,
    stop: async () => {
      isStopping = true;
      await current.stop();
      await Promise.race([watching, wait(10_000, undefined, { ref: false })]);
    },
  };
}

const doingText = (tries: number): string => (tries < 2 ? 'Yarvo is starting it again.' : 'It did not start; Yarvo tries again every few seconds.');
