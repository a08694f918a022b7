import { execFileSync, spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { chmod, mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { createConnection, createServer } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { endOrphan, forgetProcess, rememberProcess } from './orphan';
import { terminate } from './terminate';

export interface PrivateDatabase {
  readonly port: number;
  readonly password: string;
  /** Asks the server to end and waits until its process is gone. */
  stop(): Promise<void>;
}

const START_TIMEOUT_MS = 60_000;

/** A MariaDB server of our own: loopback only, data in `folder`, an own user with a random password. */
export async function startPrivateDatabase(folder: string): Promise<PrivateDatabase> {
  const data = path.resolve(folder, 'mariadb');
  await mkdir(data, { recursive: true });
  await endOrphan(folder);
  const isRoot = process.getuid?.() === 0;
  const owner = isRoot ? ['--user=mysql'] : [];
  if (isRoot) {
    execFileSync('chown', ['-R', 'mysql:mysql', data]);
    // The server runs as mysql and must be able to pass through; the secret beside the data stays root's own.
    await chmod(folder, 0o711);
  }
  if (!existsSync(path.join(data, 'mysql'))) {
    installDatabase(data, owner);
  }
  const password = await readOrCreateSecret(path.resolve(folder, 'database-secret'));
  // Socket paths are limited to about 100 characters, so the socket lives in the system's temporary folder.
  const runFolder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-db-'));
  const initFile = path.join(runFolder, 'init.sql');
  await writeFile(initFile, initSql(password), { mode: 0o600 });
  if (isRoot) execFileSync('chown', ['-R', 'mysql:mysql', runFolder]);
  const port = await findFreePort();
  const server = spawn('mariadbd', [
    '--no-defaults', `--datadir=${data}`, `--socket=${path.join(runFolder, 'db.sock')}`, `--pid-file=${path.join(runFolder, 'db.pid')}`,
    '--bind-address=127.0.0.1', `--port=${port}`, '--skip-name-resolve', `--init-file=${initFile}`,
    '--character-set-server=utf8mb4', '--collation-server=utf8mb4_bin', '--max-allowed-packet=64M', '--innodb-buffer-pool-size=128M', ...owner,
  ], { stdio: ['ignore', 'ignore', 'pipe'], detached: true });
  let log = '';
  server.stderr.on('data', (chunk: Buffer) => { log = (log + chunk.toString()).slice(-4000); });
  try {
    await waitForGreeting(port, server, () => log);
  } catch (error) {
    server.kill('SIGKILL');
    await rm(runFolder, { recursive: true, force: true });
    throw error;
  }
  if (server.pid) await rememberProcess(folder, server.pid);
  return {
    port,
    password,
    stop: async () => {
      await endProcess(server);
      await forgetProcess(folder);
      await rm(runFolder, { recursive: true, force: true });
    },
  };
}

function installDatabase(data: string, owner: readonly string[]): void {
  const result = spawnSync('mariadb-install-db', ['--no-defaults', `--datadir=${data}`, '--auth-root-authentication-method=socket', '--skip-test-db', ...owner], { encoding: 'utf8' });
  if (result.status === 0) return;
  const reason = /Permission denied/.test(result.stderr) ? 'the user mysql may not write there; choose a folder that others may pass through' : (result.error?.message ?? result.stderr.trim().split('\n').slice(-3).join(' '));
  throw new Error(`The database could not be set up in ${data}: ${reason}.`);
}

const initSql = (password: string): string => [
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

export function findFreePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const address = probe.address();
      probe.close(() => (typeof address === 'object' && address ? resolve(address.port) : reject(new Error('no free port'))));
    });
  });
}

/**
 * Resolves when the server greets a client. An open port is not enough: the port opens while the server still starts,
 * and a SIGTERM that arrives then is taken and forgotten; only a server that accepts clients also ends when told to.
 */
async function waitForGreeting(port: number, server: ChildProcess, log: () => string): Promise<void> {
  const until = Date.now() + START_TIMEOUT_MS;
  while (Date.now() < until) {
    if (!isRunning(server)) throw new Error(`MariaDB ended at once:\n${log()}`);
    if (await isGreeted(port, until - Date.now())) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(`MariaDB did not answer within ${START_TIMEOUT_MS / 1000} s:\n${log()}`);
}

/** The server speaks first: its greeting is the first packet of the client/server protocol. */
function isGreeted(port: number, timeoutMs: number): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = createConnection({ host: '127.0.0.1', port, timeout: timeoutMs });
    const answer = (isOpen: boolean) => { socket.destroy(); resolve(isOpen); };
    socket.once('data', () => answer(true));
    for (const end of ['error', 'timeout', 'close'] as const) socket.once(end, () => answer(false));
  });
}

const isRunning = (server: ChildProcess): boolean => server.exitCode === null && server.signalCode === null;

async function endProcess(server: ChildProcess): Promise<void> {
  const { pid } = server;
  if (pid) await terminate(pid, () => isRunning(server));
}
