import { spawn, type ChildProcess } from 'node:child_process';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import type { DatabaseStatus } from '@/server/database/database-status';
import { folderArgument, forgetProcess, rememberProcess } from '@/server/database/orphan';
import { terminate } from '@/server/database/terminate';
import { log } from '@/server/log/logger';
import { BackOff } from './back-off';
import { CANNOT_LISTEN } from './exit-codes';

export interface WebOptions {
  readonly root: string;
  readonly entries: string;
  readonly data: string;
  /** Called whenever the server answers, the first time and after each new start. */
  readonly onReady: () => void;
  readonly say: (text: string) => void;
}

export interface KeptWeb {
  /** Resolves with what is wrong when the server ended so often that starting it again is no use. */
  readonly gaveUp: Promise<string>;
  /** Tells the server, now and after each new start, what is known of the database. */
  tell(status: DatabaseStatus | null): void;
  stop(): Promise<void>;
}

/** Ended this often in a row without having answered: it will not answer the next time either. */
const MOST_FAILURES = 6;
const PATIENCE_MS = 6_000;
const PORT_TAKEN = 'The port was taken by another program meanwhile';

/** The web server, started again whenever it ends by itself; killed by the kernel when this process dies. */
export function keepWeb({ root, entries, data, onReady, say }: WebOptions): KeptWeb {
  let current: ChildProcess | null = null;
  let isStopping = false;
  let known: DatabaseStatus | null = null;
  const send = () => {
    if (current?.connected) current.send({ databaseStatus: known }, () => undefined);
  };

  const run = async (): Promise<string> => {
    const backOff = new BackOff();
    let failures = 0;
    while (!isStopping) {
      const started = Date.now();
      const child = spawn(
        'setpriv',
        ['--pdeathsig=KILL', process.execPath, path.join(entries, 'web.mjs'), folderArgument(data, 'web')],
        {
          cwd: root,
          stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
          detached: true,
          env: { ...process.env, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1' },
        },
      );
      current = child;
      const ended = new Promise<string>((resolve) => {
        child.once('exit', (code, signal) =>
          resolve(signal ?? (code === CANNOT_LISTEN ? PORT_TAKEN : `exit code ${code}`)),
        );
        child.once('error', (error) => resolve(error.message));
      });
      if (child.pid) await rememberProcess(data, child.pid, 'web');
      failures++;
      child.stdout?.on('data', (chunk: Buffer) => {
        if (!chunk.toString().includes('ready')) return;
        failures = 0;
        send();
        onReady();
      });
      const why = await ended;
      if (isStopping) break;
      log().error({ why }, 'the web server ended');
      if (why === PORT_TAKEN) return `${why}.`;
      if (failures >= MOST_FAILURES)
        return `The web server ended ${failures} times in a row (${why}); the log says why.`;
      say(`the web server ended (${why}); starting it again`);
      await wait(backOff.next(Date.now() - started));
    }
    return '';
  };

  const running = run();
  return {
    gaveUp: running.then((why) => (why === '' ? new Promise<string>(() => undefined) : why)),
    tell: (status) => {
      known = status;
      send();
    },
    stop: async () => {
      isStopping = true;
      const child = current;
      if (child?.pid)
        await terminate(child.pid, () => child.exitCode === null && child.signalCode === null, PATIENCE_MS);
      await forgetProcess(data, 'web');
    },
  };
}
