import { readFileSync, writeFileSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { randomUUID } from 'node:crypto';
import { build } from 'esbuild';
import { createNodeIO } from '@/formats/gltf/node-io';
import { closeDatabase } from '@/server/database/connection';
import { migrate } from '@/server/database/migrate';
import { startPrivateDatabase } from '@/server/database/private-server';
import { queueIntake } from '@/server/intake/intake-job';
import { databaseQueue } from '@/server/jobs/database-queue';
import { onJob } from '@/server/jobs/job-events';
import { seedLibrary } from '@/server/library/studio';
import { fileAtHand } from '@/server/uploads/arrived-file';
import { jobRunner } from '@/server/upkeep/start-jobs';
import { buildWorkers } from '@/server/work/build-workers';
import { closePool } from '@/server/work/pool';
import { ProcessPool } from '@/server/work/process-pool';

/**
 * `npx tsx bench/intake/many.ts [--count 200] [--write]`: characters taken in one after another through queue, workers and
 * database, against bare parsing of the same bytes by worker processes of the same number and limits, in one run.
 */
const ROOT = path.resolve(import.meta.dirname, '../..');
const COUNT = Number(process.argv[process.argv.indexOf('--count') + 1] || 0) || 200;
const WORKERS = 2;
const MEMORY_MEGABYTES = 1024;
const FIGURES = ['lamplighter', 'eel-seller', 'net-mender', 'harbour-diver', 'otter-stevedore', 'stilt-walker'];

/** Figures of the demo, each with something of its own, so that none is known already. */
async function makeFiles(): Promise<{ name: string; bytes: Uint8Array }[]> {
  const files = [];
  for (let at = 0; at < COUNT; at++) {
    const figure = FIGURES[at % FIGURES.length];
    const document = await createNodeIO().readBinary(
      new Uint8Array(readFileSync(path.join(ROOT, `demo/files/${figure}.glb`))),
    );
    document.getRoot().setExtras({ bench: at });
    files.push({ name: `${figure}-${at}.glb`, bytes: await createNodeIO().writeBinary(document) });
  }
  return files;
}

/** Largest resident memory of any child of this process so far, megabytes. */
function watchWorkers(): () => number {
  let most = 0;
  const timer = setInterval(() => {
    const children = readFileSync(`/proc/${process.pid}/task/${process.pid}/children`, 'utf8').trim().split(' ');
    for (const pid of children) {
      try {
        if (!/worker|main\.mjs|parse/.test(readFileSync(`/proc/${pid}/cmdline`, 'utf8'))) continue;
        most = Math.max(
          most,
          Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024,
        );
      } catch {
        // It has ended by now.
      }
    }
  }, 50);
  return () => {
    clearInterval(timer);
    return most;
  };
}

async function timeParsing(files: readonly { name: string; bytes: Uint8Array }[], folder: string): Promise<number> {
  await build({
    entryPoints: [path.join(import.meta.dirname, 'parse-worker.ts')],
    outfile: path.join(folder, 'parse.mjs'),
    bundle: true,
    platform: 'node',
    format: 'esm',
    alias: { '@': path.join(ROOT, 'src') },
    external: ['draco3dgltf'],
    banner: { js: "import { createRequire as r } from 'node:module'; const require = r(import.meta.url);" },
    logLevel: 'warning',
  });
  const pool = new ProcessPool({
    entry: path.join(folder, 'parse.mjs'),
    mostWorkers: WORKERS,
    mostWaiting: COUNT,
    memoryMegabytes: MEMORY_MEGABYTES,
    idleMs: 30_000,
    timeoutMs: 60_000,
  });
  const signal = new AbortController().signal;
  const parse = ({ name, bytes }: { name: string; bytes: Uint8Array }) =>
    pool.run({ name: 'listContents', task: { files: [{ path: name, bytes }], place: name } }, signal);
  await Promise.all(files.slice(0, WORKERS * 4).map(parse));
  const start = performance.now();
  await Promise.all(files.map(parse));
  const seconds = (performance.now() - start) / 1000;
  pool.destroy();
  return seconds;
}

async function takeIn(files: readonly { name: string; bytes: Uint8Array }[]): Promise<number> {
  const open = new Set<string>(files.map(() => randomUUID()));
  const over = new Promise<void>((resolve, reject) => {
    const stop = onJob(({ id, state, problem }) => {
      if (state === 'failed') reject(new Error(JSON.stringify(problem)));
      if (state !== 'done' || !open.delete(id) || open.size > 0) return;
      stop();
      resolve();
    });
  });
  const start = performance.now();
  for (const [at, id] of [...open].entries()) {
    const { name, bytes } = files[at];
    await queueIntake(databaseQueue, [fileAtHand(name, bytes)], { id, author: 'bench' });
  }
  await over;
  return (performance.now() - start) / 1000;
}

const folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-bench-'));
const workers = path.join(ROOT, '.cache/bench-workers');
await buildWorkers(ROOT, workers);
const database = await startPrivateDatabase(folder);
Object.assign(process.env, {
  YARVO_DB_PORT: String(database.port),
  YARVO_DB_PASSWORD: database.password,
  YARVO_WORKERS: workers,
  YARVO_LOG_LEVEL: 'silent',
});
try {
  const files = await makeFiles();
  const megabytes = files.reduce((sum, { bytes }) => sum + bytes.length, 0) / 1024 / 1024;
  const parsing = await timeParsing(files, folder);
  await migrate();
  await seedLibrary();
  jobRunner().start();
  // Warm, as the parsing was.
  await takeIn((await makeFiles()).slice(0, 4).map(({ name, bytes }) => ({ name: `warm-${name}`, bytes })));
  const stop = watchWorkers();
  const intake = await takeIn(files);
  const memory = stop();
  const row = `| ${COUNT} | ${megabytes.toFixed(0)} MB | ${parsing.toFixed(1)} s | ${intake.toFixed(1)} s | ${(intake / parsing).toFixed(1)} | ${memory.toFixed(0)} MB |`;
  process.stdout.write(`${row}\n`);
  if (process.argv.includes('--write')) {
    const report = path.join(ROOT, 'docs/intake-report.md');
    const text = readFileSync(report, 'utf8').split('\n## Many at once')[0].trimEnd();
    writeFileSync(
      report,
      `${text}

## Many at once

Generated characters through queue, ${WORKERS} worker processes and database until the last one is on the roster, against
bare parsing of the same bytes by as many worker processes, in one run. Written by \`npx tsx bench/intake/many.ts
--write\`. The aim is a ratio of 3.

| characters | bytes | bare parsing | full intake | ratio | largest worker |
|---|---|---|---|---|---|
${row}
`,
    );
  }
} finally {
  await jobRunner().stop();
  await closePool();
  await closeDatabase();
  await database.stop();
  await rm(folder, { recursive: true, force: true });
}
