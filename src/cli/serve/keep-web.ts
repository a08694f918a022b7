import { spawn, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import type { DatabaseStatus } from '@/server/database/database-status';
import { folderArgument, forgetProcess, rememberProcess } from '@/server/database/orphan';
import { terminate } from '@/server/database/terminate';
import { log } from '@/server/log/logger';
import { BackOff } from './back-off';
import { CANNOT_LISTEN } from './exit-codes';
import { untilItHangs } from './hang-watch';

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

/**
 * Whether the web server answers, whatever it says: asked under the address that it listens on. Whoever may use Yarvo is
 * not asked here, so an answer that lets nobody in is an answer as well.
 */
async function askHealth(signal: AbortSignal): Promise<boolean> {
  const { YARVO_HOST: host = '127.0.0.1', YARVO_PORT: port = '4310', YARVO_PASSWORD: password } = process.env;
  const address = host === '0.0.0.0' ? '127.0.0.1' : host === '::' ? '[::1]' : host.includes(':') ? `[${host}]` : host;
  const headers = password
    ? { authorization: `Basic ${Buffer.from(`yarvo:${password}`).toString('base64')}` }
    : undefined;
  const response = await fetch(`http://${address}:${port}/api/health`, { signal, headers });
  await response.arrayBuffer();
  return true;
}

/** Whether a process is stopped by a signal or a debugger (proc(5), state T or t). */
function isStopped(pid: number | undefined): boolean {
  try {
    return /^\d+ \(.*\) [Tt]/s.test(readFileSync(`/proc/${pid}/stat`, 'latin1'));
  } catch {
    return false;
  }
}

/** Ended this often in a row without having answered: it will not answer the next time either. */
const MOST_FAILURES = 6;
const PATIENCE_MS = 6_000;
/** Requests give up after 20 s at the latest: a statement, or the wait for a connection, before that. */
const STATEMENT_MS = 15_000;
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
          env: {
            ...process.env,
            NODE_ENV: 'production',
            NEXT_TELEMETRY_DISABLED: '1',
            YARVO_DB_STATEMENT_MS: process.env.YARVO_DB_STATEMENT_MS ?? String(STATEMENT_MS),
          },
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
      const over = new AbortController();
      void ended.then(() => over.abort());
      let hasHung = false;
      child.stdout?.on('data', (chunk: Buffer) => {
        if (!chunk.toString().includes('ready')) return;
        failures = 0;
        send();
        onReady();
        const subject = { ask: askHealth, isStopped: () => isStopped(child.pid) };
        void untilItHangs(subject, over.signal).then((hangs) => {
          if (!hangs || isStopping) return;
          hasHung = true;
          log().fatal({ pid: child.pid }, 'the web server runs and does not answer');
          // It would not take any other signal.
          child.kill('SIGKILL');
        });
      });
      const ending = await ended;
      const why = hasHung ? 'it ran and did not answer' : ending;
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
