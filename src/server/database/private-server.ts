import { execFileSync, spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { randomBytes, randomInt } from 'node:crypto';
import { closeSync, existsSync, openSync, readFileSync } from 'node:fs';
import { chmod, mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { createConnection, createServer } from 'node:net';
import path from 'node:path';
import { endOrphan, forgetProcess, rememberProcess } from './orphan';
import { makeRunFolder, removeStaleRunFolders } from './run-folders';
import { terminate } from './terminate';

export interface PrivateDatabase {
  readonly port: number;
  readonly password: string;
  readonly pid: number;
  /** Resolves when the server's process has ended, for whatever reason: with the signal that killed it, or null. */
  readonly ended: Promise<NodeJS.Signals | null>;
  /** Last lines of the server's own log. */
  lastWords(): readonly string[];
  /** Asks the server to end and waits until its process is gone. */
  stop(): Promise<void>;
}

export interface PrivateDatabaseOptions {
  /** Port to listen on; a free one where none is named. */
  readonly port?: number;
}

const START_TIMEOUT_MS = 60_000;
const LAST_LINES = 8;
/** Below those that a system hands out for outgoing connections: nobody takes one between the look and the use. */
const PORTS = { from: 15_000, to: 32_000 };
const MOST_TRIES = 100;
const LAST_CHARACTERS = 64 * 1024;

/**
 * A MariaDB server of our own: loopback only, data in `folder`, an own user with a random password. It is told to end
 * when the process that started it dies, however that dies.
 */
export async function startPrivateDatabase(
  folder: string,
  options: PrivateDatabaseOptions = {},
): Promise<PrivateDatabase> {
  const data = path.resolve(folder, 'mariadb');
  await mkdir(data, { recursive: true });
  await endOrphan(folder);
  await removeStaleRunFolders();
  const isRoot = process.getuid?.() === 0;
  if (isRoot) {
    execFileSync('chown', ['-R', 'mysql:mysql', data]);
    // The server runs as mysql and must be able to pass through; the secret beside the data stays root's own.
    await chmod(folder, 0o711);
  }
  if (!existsSync(path.join(data, 'mysql'))) installDatabase(data, isRoot ? ['--user=mysql'] : []);
  const password = await readOrCreateSecret(path.resolve(folder, 'database-secret'));
  const runFolder = await makeRunFolder();
  const initFile = path.join(runFolder, 'init.sql');
  await writeFile(initFile, initSql(password), { mode: 0o600 });
  if (isRoot) execFileSync('chown', ['-R', 'mysql:mysql', runFolder]);
  const port = options.port ?? (await findFreePort());
  const logFile = path.resolve(folder, 'logs', 'database.log');
  await mkdir(path.dirname(logFile), { recursive: true });
  const server = spawnServer(serverArguments(data, runFolder, initFile, port), logFile, isRoot);
  const ended = new Promise<NodeJS.Signals | null>((resolve) => {
    server.once('exit', (_code, signal) => resolve(signal)).once('error', () => resolve(null));
  });
  void ended.then(() => rm(runFolder, { recursive: true, force: true }));
  const lastWords = () => readLastLines(logFile);
  // Before it answers: a start that is cut off here leaves a server that the next one must find.
  if (server.pid) await rememberProcess(folder, server.pid);
  try {
    await waitForGreeting(port, server, lastWords);
  } catch (error) {
    server.kill('SIGKILL');
    throw error;
  }
  // It was read when the server started, and it holds the password.
  await rm(initFile, { force: true });
  return {
    port,
    password,
    pid: server.pid as number,
    ended,
    lastWords,
    stop: async () => {
      await endProcess(server);
      await forgetProcess(folder);
      await rm(runFolder, { recursive: true, force: true });
    },
  };
}

const serverArguments = (data: string, runFolder: string, initFile: string, port: number): string[] => [
  '--no-defaults',
  `--datadir=${data}`,
  `--socket=${path.join(runFolder, 'db.sock')}`,
  `--pid-file=${path.join(runFolder, 'db.pid')}`,
  '--bind-address=127.0.0.1',
  `--port=${port}`,
  '--skip-name-resolve',
  `--init-file=${initFile}`,
  '--character-set-server=utf8mb4',
  '--collation-server=utf8mb4_bin',
  '--max-allowed-packet=64M',
  '--innodb-buffer-pool-size=128M',
];

/**
 * The kernel sends the signal when the parent dies. `setpriv` gives up root first and asks for the signal last: giving
 * up root afterwards would take the request back (prctl(2), PR_SET_PDEATHSIG).
 */
function spawnServer(args: readonly string[], logFile: string, isRoot: boolean): ChildProcess {
  const asMysql = isRoot ? ['--reuid=mysql', '--regid=mysql', '--init-groups'] : [];
  const log = openSync(logFile, 'a');
  try {
    return spawn('setpriv', ['--pdeathsig=TERM', ...asMysql, 'mariadbd', ...args], {
      stdio: ['ignore', 'ignore', log],
      detached: true,
    });
  } finally {
    closeSync(log);
  }
}

const withoutTime = (line: string): string => line.replace(/^[\d-]+ +[\d:]+ /, '');

function readLastLines(file: string): string[] {
  try {
    const lines = readFileSync(file, 'utf8').slice(-LAST_CHARACTERS).trimEnd().split('\n');
    // A server in trouble says one thing many times.
    const isNews = (line: string, at: number) => at === 0 || withoutTime(line) !== withoutTime(lines[at - 1]);
    return lines.filter(isNews).slice(-LAST_LINES);
  } catch {
    return [];
  }
}

function installDatabase(data: string, owner: readonly string[]): void {
  const result = spawnSync(
    'mariadb-install-db',
    ['--no-defaults', `--datadir=${data}`, '--auth-root-authentication-method=socket', '--skip-test-db', ...owner],
    { encoding: 'utf8' },
  );
  if (result.status === 0) return;
  throw new Error(`The database could not be set up in ${data}: ${reasonOf(result.stderr, result.error)}.`);
}

function reasonOf(said: string, error: Error | undefined): string {
  if (/Permission denied/.test(said))
    return 'the user mysql may not write there; choose a folder that others may pass through';
  if (/No space left|errno: 28/i.test(said)) return 'the disk is full; make room on it or choose another folder';
  return error?.message ?? said.trim().split('\n').slice(-3).join(' ');
}

const initSql = (password: string): string =>
  [
    'CREATE DATABASE IF NOT EXISTS yarvo CHARACTER SET utf8mb4 COLLATE utf8mb4_bin;',
    `CREATE USER IF NOT EXISTS 'yarvo'@'127.0.0.1' IDENTIFIED BY '${password}';`,
    "GRANT ALL PRIVILEGES ON yarvo.* TO 'yarvo'@'127.0.0.1';",
    '',
  ].join('\n');

async function readOrCreateSecret(file: string): Promise<string> {
  if (existsSync(file)) return (await readFile(file, 'utf8')).trim();
  const secret = randomBytes(24).toString('hex');
  await writeFile(file, secret, { mode: 0o600 });
  return secret;
}

/** A port of this machine that nobody listens on. @throws {Error} where none was found. */
export async function findFreePort(): Promise<number> {
  for (let tries = 0; tries < MOST_TRIES; tries++) {
    const port = randomInt(PORTS.from, PORTS.to);
    if (await isFree(port)) return port;
  }
  throw new Error(`no free port in ${MOST_TRIES} tries`);
}

const isFree = (port: number): Promise<boolean> =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });

/**
 * Resolves when the server greets a client. An open port is not enough: the port opens while the server still starts,
 * and a SIGTERM that arrives then is taken and forgotten; only a server that accepts clients also ends when told to.
 */
async function waitForGreeting(port: number, server: ChildProcess, lastWords: () => readonly string[]): Promise<void> {
  const until = Date.now() + START_TIMEOUT_MS;
  while (Date.now() < until) {
    if (!isRunning(server)) throw new Error(`MariaDB ended at once: ${wordsOf(lastWords())}`);
    if (await isGreeted(port, until - Date.now())) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(`MariaDB did not answer within ${START_TIMEOUT_MS / 1000} s: ${wordsOf(lastWords())}`);
}

/** The lines that say what is wrong, else the last ones. */
function wordsOf(lines: readonly string[]): string {
  const errors = lines.filter((line) => /\[ERROR\]/.test(line));
  return (errors.length > 0 ? errors.slice(0, 2) : lines.slice(-2))
    .map((line) => line.replace(/^.*\[ERROR\]\s*/, ''))
    .join(' ');
}

/** The server speaks first: its greeting is the first packet of the client/server protocol. */
function isGreeted(port: number, timeoutMs: number): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = createConnection({ host: '127.0.0.1', port, timeout: timeoutMs });
    const answer = (isOpen: boolean) => {
      socket.destroy();
      resolve(isOpen);
    };
    socket.once('data', () => answer(true));
    for (const end of ['error', 'timeout', 'close'] as const) socket.once(end, () => answer(false));
  });
}

const isRunning = (server: ChildProcess): boolean =>
  server.exitCode === null && server.signalCode === null && server.pid !== undefined;

async function endProcess(server: ChildProcess): Promise<void> {
  const { pid } = server;
  if (pid) await terminate(pid, () => isRunning(server));
}
