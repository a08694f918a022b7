import { existsSync } from 'node:fs';
import { mkdir, rename, stat } from 'node:fs/promises';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { isLoopback } from '@/server/access/access-rules';
import { closeDatabase, database } from '@/server/database/connection';
import { migrate } from '@/server/database/migrate';
import { seedLibrary } from '@/server/library/studio';
import { log } from '@/server/log/logger';
import { closePool } from '@/server/work/pool';
import { buildIfChanged } from './serve/build';
import { keepDatabase, type KeptDatabase } from './serve/keep-database';
import { keepWeb, type KeptWeb } from './serve/keep-web';
import { loadDemo } from './serve/load-demo';
import { readOptions, type ServeOptions } from './serve/options';
import { prepareFolder } from './serve/preflight';
import { sentenceOf, StartError } from './serve/start-error';

/**
 * `./start`: the one supervisor. It starts the database and the web server, starts either again when it ends by itself,
 * and ends both when it is told to (Ctrl+C, SIGTERM, a closed terminal). Exit code 0 where it was told to end, 1 where
 * it could not start or go on, 2 for a wrong command.
 */
const ROOT = path.resolve(import.meta.dirname, '../..');
const LARGEST_LOG_BYTES = 20 * 1024 * 1024;

// The terminal may be gone; that is no reason to end in the middle of ending.
for (const stream of [process.stdout, process.stderr]) stream.on('error', () => undefined);
const say = (text: string): void => void process.stdout.write(`${text}\n`);

let kept: KeptDatabase | null = null;
let web: KeptWeb | null = null;
let isEnding = false;

async function end(code: number): Promise<void> {
  if (isEnding) return say('Yarvo is ending ...');
  isEnding = true;
  await web?.stop();
  await closePool();
  await closeDatabase();
  await kept?.stop();
  process.exit(code);
}

async function main(): Promise<void> {
  const options = readOptions(process.argv.slice(2), process.env, ROOT);
  await prepareFolder(options, say);
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void end(0));
  const { entries } = await buildIfChanged(ROOT, say);
  process.env.YARVO_LOG_FILE = await openLog(options.data);
  const isOwn = process.env.YARVO_DB_PORT === undefined;
  if (isOwn) kept = await keepDatabase({ data: options.data, say, onStatus: (status) => web?.tell(status) });
  Object.assign(process.env, environmentFor(options, kept, entries));
  if (!isOwn) await waitForDatabase();
  const ran = await migrate();
  await seedLibrary();
  if (ran.length > 0) say(`database: ${ran.length} migration${ran.length === 1 ? '' : 's'} applied`);
  if (options.hasDemo) await loadDemo(ROOT, options.data, say);
  await closePool();
  await closeDatabase();
  if (isEnding) return;
  web = keepWeb({ root: ROOT, entries, data: options.data, onReady: () => sayWhere(options), say });
  void web.gaveUp.then((why) => {
    process.stderr.write(`${why}\n`);
    void end(1);
  });
}

const environmentFor = (options: ServeOptions, own: KeptDatabase | null, entries: string) => ({
  YARVO_WORKERS: entries,
  YARVO_PORT: String(options.port),
  YARVO_HOST: options.host,
  ...(own && { YARVO_DB_HOST: own.host, YARVO_DB_PORT: String(own.port), YARVO_DB_PASSWORD: own.password }),
});

function sayWhere({ host, port }: ServeOptions): void {
  const shown = host.includes(':') ? `[${host}]` : host;
  say(`Yarvo is at http://${shown}:${port}  (Ctrl+C ends it)`);
  if (!isLoopback(host))
    say(
      'It is open to every machine that reaches this address and knows the password, for reading and changing everything; what is sent is not encrypted.',
    );
}

async function openLog(data: string): Promise<string> {
  const file = path.join(data, 'logs', 'yarvo.log');
  await mkdir(path.dirname(file), { recursive: true });
  for (const known of [file, path.join(path.dirname(file), 'database.log')]) {
    if (existsSync(known) && (await stat(known)).size > LARGEST_LOG_BYTES) await rename(known, `${known}.1`);
  }
  return file;
}

/** A database of somebody else's is waited for, not started. */
async function waitForDatabase(): Promise<void> {
  for (let tries = 0; ; tries++) {
    try {
      await database().query('SELECT 1');
      return;
    } catch (error) {
      if (tries === 0)
        say(`waiting for the database at ${process.env.YARVO_DB_HOST ?? '127.0.0.1'}:${process.env.YARVO_DB_PORT} ...`);
      if (tries === 60) throw new StartError(`The database does not answer: ${sentenceOf(error)}.`);
      await wait(1_000);
    }
  }
}

main().catch(async (error: unknown) => {
  process.stderr.write(`${sentenceOf(error)}\n`);
  if (process.env.YARVO_LOG_FILE) log().fatal({ err: error }, 'the start failed');
  await end(error instanceof StartError ? error.exitCode : 1);
});
