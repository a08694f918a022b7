import { execFileSync, spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { models } from '@/server/database/models';
import { closeDatabase } from '@/server/database/connection';
import { migrate } from '@/server/database/migrate';
import { endOrphan } from '@/server/database/orphan';
import { startPrivateDatabase, type PrivateDatabase } from '@/server/database/private-server';
import { takeInFile } from '@/server/characters/take-in';
import { isModel } from '@/formats/source/source-format';
import { buildWorkers } from '@/server/work/build-workers';
import { closePool } from '@/server/work/pool';

/** `./start`: database, migrations, demo data, build, server; ends all of it on Ctrl+C or SIGTERM. */
const ROOT = path.resolve(import.meta.dirname, '../..');
const say = (text: string) => process.stdout.write(`${text}\n`);

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '4310' },
    data: { type: 'string', default: '.data' },
    host: { type: 'string', default: '127.0.0.1' },
    fresh: { type: 'boolean', default: false },
    'no-demo': { type: 'boolean', default: false },
  },
});

async function main(): Promise<void> {
  const port = Number(values.port);
  if (!Number.isInteger(port) || port < 1 || port > 65535) throw new Error(`--port ${values.port} is no port number`);
  const data = path.resolve(ROOT, values.data);
  if (values.fresh) await clearData(data);
  await mkdir(data, { recursive: true });
  await writeFile(path.join(data, MARKER), 'Yarvo keeps its database here.\n');
  const workers = path.join(ROOT, '.cache/workers');
  await buildIfChanged(workers);
  const database = await startPrivateDatabase(data);
  let isEnding = false;
  const end = async (code: number) => {
    if (isEnding) return;
    isEnding = true;
    await closePool();
    await closeDatabase();
    await database.stop();
    process.exit(code);
  };
  try {
    Object.assign(process.env, environmentFor(database, workers));
    const ran = await migrate();
    if (ran.length > 0) say(`database: ${ran.length} migration${ran.length === 1 ? '' : 's'} applied`);
    if (!values['no-demo']) await loadDemo();
    await closePool();
    await closeDatabase();
    serve(port, end);
  } catch (error) {
    process.stderr.write(`${(error as Error).message}\n`);
    await end(1);
  }
}

/** Stands in a folder that Yarvo made, so that --fresh never empties another one. */
const MARKER = 'yarvo-data';

async function clearData(data: string): Promise<void> {
  if (!existsSync(data)) return;
  const isOurs = existsSync(path.join(data, MARKER)) || (await readdir(data)).length === 0;
  if (!isOurs) throw new Error(`--fresh: ${data} was not made by Yarvo, so it is left alone. Remove it by hand or name another folder.`);
  await endOrphan(data);
  await rm(data, { recursive: true, force: true });
}

const environmentFor = (database: PrivateDatabase, workers: string) => ({
  YARVO_DB_PORT: String(database.port),
  YARVO_DB_PASSWORD: database.password,
  YARVO_WORKERS: workers,
});

async function loadDemo(): Promise<void> {
  if ((await models().Character.count()) > 0) return;
  const folder = path.join(ROOT, 'demo/files');
  for (const file of (await readdir(folder)).filter(isModel).sort()) {
    const { name } = await takeInFile({ bytes: new Uint8Array(await readFile(path.join(folder, file))), fileName: file, author: 'demo' });
    say(`demo: ${name}`);
  }
}

/** Builds the pages and the workers when a source file changed since the last time. */
async function buildIfChanged(workers: string): Promise<void> {
  const stamp = path.join(ROOT, '.cache/build-stamp');
  const now = await hashSources();
  const known = existsSync(stamp) ? await readFile(stamp, 'utf8') : '';
  if (known === now && existsSync(path.join(ROOT, '.next/BUILD_ID')) && existsSync(path.join(workers, 'tasks.mjs'))) return;
  say('building ...');
  await buildWorkers(ROOT, workers);
  execFileSync(process.execPath, [path.join(ROOT, 'node_modules/next/dist/bin/next'), 'build'], { cwd: ROOT, stdio: ['ignore', 'pipe', 'inherit'], env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' } });
  await mkdir(path.dirname(stamp), { recursive: true });
  await writeFile(stamp, now);
}

async function hashSources(): Promise<string> {
  const hash = createHash('sha256');
  const files = (await readdir(path.join(ROOT, 'src'), { recursive: true, withFileTypes: true })).filter((entry) => entry.isFile()).map((entry) => path.join(entry.parentPath, entry.name));
  for (const file of [...files, path.join(ROOT, 'package-lock.json'), path.join(ROOT, 'next.config.ts')].sort()) {
    hash.update(path.relative(ROOT, file));
    hash.update(await readFile(file));
  }
  return hash.digest('hex');
}

function serve(port: number, end: (code: number) => Promise<void>): void {
  const child = spawn(process.execPath, [path.join(ROOT, 'node_modules/next/dist/bin/next'), 'start', '-H', values.host, '-p', String(port)], {
    cwd: ROOT,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
    detached: true,
  });
  child.stdout.on('data', (chunk: Buffer) => {
    if (/ready/i.test(chunk.toString())) say(`Yarvo is at http://${values.host}:${port}  (Ctrl+C ends it)`);
  });
  child.once('exit', (code) => void end(code ?? 0));
  let isStopping = false;
  const stop = () => {
    // A second Ctrl+C must not cut off the database while it writes.
    if (isStopping) return say('Yarvo is ending ...');
    isStopping = true;
    child.kill('SIGTERM');
    setTimeout(() => child.kill('SIGKILL'), 5_000).unref();
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
}

main().catch((error: Error) => {
  process.stderr.write(`${error.message}\n`);
  process.exit(1);
});
