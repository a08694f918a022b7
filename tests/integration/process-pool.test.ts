import { existsSync } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { afterEach, beforeAll, afterAll, describe, expect, it } from 'vitest';
import { isAlive } from '@/server/database/orphan';
import { ProcessPool } from '@/server/work/process-pool';
import type { WorkOrder } from '@/workers/server/main';
import type { Stowed } from '@/workers/server/stow';

/** A worker that does what the order's place says. */
const WORKER = `
const hold = [];
process.on('disconnect', () => process.exit(0));
const say = (value) => process.send({ value, stowed: [] });
process.on('message', ({ value: { task: { place, files } }, stowed }) => {
  if (place === 'pid') return say(process.pid);
  if (place === 'echo') return say(files.map((file) => [file.path, file.bytes]));
  if (place === 'stowed') return say(stowed);
  if (place === 'heap') { const list = []; for (let at = 0; ; at++) list.push({ at, text: 'x' + at }); }
  // One allocation far beyond what is left, as a list of numbers makes it when it grows: a thread would take its process along.
  if (place === 'one large list') { const list = Array(3_000_000).fill(0).map((_, at) => at + 0.5); for (;;) list.push(...list.slice(0, 100_000)); }
  if (place === 'arrays') { const fill = () => { hold.push(new Float64Array(4_000_000).fill(1)); setTimeout(fill, 5); }; return fill(); }
  if (place === 'fault') process.exit(3);
  if (place === 'for ever') for (;;);
});
`;

let folder: string;
let pool: ProcessPool | null = null;
const order = (place: string, files: { path: string; bytes: Uint8Array }[] = []): WorkOrder => ({
  name: 'listContents',
  task: { files, place },
});
const run = (place: string, signal: AbortSignal = new AbortController().signal) =>
  (pool as ProcessPool).run(order(place), signal);
const makePool = (most: Partial<{ workers: number; waiting: number; idleMs: number; timeoutMs: number }> = {}) => {
  pool = new ProcessPool({
    entry: path.join(folder, 'worker.cjs'),
    mostWorkers: most.workers ?? 2,
    mostWaiting: most.waiting ?? 4,
    memoryMegabytes: 48,
    idleMs: most.idleMs ?? 30_000,
    timeoutMs: most.timeoutMs ?? 60_000,
  });
};

beforeAll(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-pool-'));
  await writeFile(path.join(folder, 'worker.cjs'), WORKER);
});
afterEach(() => pool?.destroy());
afterAll(() => rm(folder, { recursive: true, force: true }));

describe('a pool of worker processes', () => {
  it('carries bytes over and back as they are, and uses a worker again', async () => {
    makePool({ workers: 1 });
    const bytes = Uint8Array.from({ length: 100_003 }, (_, at) => (at * 7) % 256);
    const answer = (await (pool as ProcessPool).run(
      order('echo', [
        { path: 'a', bytes: Uint8Array.of(1) },
        { path: 'b', bytes },
      ]),
      new AbortController().signal,
    )) as [string, Uint8Array][];
    expect(answer.map(([name, { length }]) => [name, length])).toEqual([
      ['a', 1],
      ['b', 100_003],
    ]);
    expect(Buffer.compare(answer[1][1], bytes)).toBe(0);
    expect(await run('pid')).toBe(await run('pid'));
  });

  it.each(['heap', 'one large list', 'arrays'])(
    'a worker that runs out of memory by its %s is ended, and nothing else',
    async (place) => {
      makePool();
      const [hungry, modest] = await Promise.allSettled([run(place), run('pid')]);
      expect(hungry).toMatchObject({ status: 'rejected', reason: { code: 'too-much-memory' } });
      expect(modest.status).toBe('fulfilled');
      expect(await run('pid')).toBeGreaterThan(0);
    },
  );

  it('a worker that ends by itself fails its order only', async () => {
    makePool();
    await expect(run('fault')).rejects.toMatchObject({ code: 'ended' });
    expect(await run('pid')).toBeGreaterThan(0);
  });

  it('an order that is taken back ends in the middle of its work, or before it began', async () => {
    makePool({ workers: 1 });
    const first = new AbortController();
    const second = new AbortController();
    const running = run('for ever', first.signal);
    const waiting = run('for ever', second.signal);
    second.abort();
    await expect(waiting).rejects.toMatchObject({ code: 'aborted' });
    first.abort();
    await expect(running).rejects.toMatchObject({ code: 'aborted' });
    expect(await run('pid')).toBeGreaterThan(0);
    await expect(run('pid', AbortSignal.abort())).rejects.toMatchObject({ code: 'aborted' });
  });

  it('gives an order its time from when it is begun, not from when it was queued', async () => {
    makePool({ workers: 1, timeoutMs: 1_500 });
    const [first, second, third] = await Promise.allSettled([run('for ever'), run('for ever'), run('pid')]);
    expect(first).toMatchObject({ status: 'rejected', reason: { code: 'too-slow' } });
    // It waited as long as it may work.
    expect(second).toMatchObject({ status: 'rejected', reason: { code: 'too-slow' } });
    expect(third.status).toBe('fulfilled');
  });

  it('hands large arrays over by file, and leaves none of these', async () => {
    makePool({ workers: 1 });
    const bytes = new Uint8Array(2_000_000).fill(7);
    const stowed = (await (pool as ProcessPool).run(
      order('stowed', [{ path: 'a', bytes }]),
      new AbortController().signal,
    )) as Stowed[];
    expect(stowed).toMatchObject([{ at: ['task', 'files', 0, 'bytes'], kind: 'Uint8Array' }]);
    expect(existsSync(stowed[0].file)).toBe(false);
    expect(existsSync(path.dirname(stowed[0].file))).toBe(false);
  });

  it('says when too many wait', async () => {
    makePool({ workers: 1, waiting: 1 });
    const stop = new AbortController();
    const held = [run('for ever', stop.signal), run('for ever', stop.signal)].map((work) => work.catch(() => 'ended'));
    await expect(run('pid')).rejects.toMatchObject({ code: 'queue-full' });
    stop.abort();
    expect(await Promise.all(held)).toEqual(['ended', 'ended']);
  });

  it('lets workers go that have nothing to do, and all of them when it is closed', async () => {
    makePool({ idleMs: 20 });
    const pid = (await run('pid')) as number;
    for (let tries = 0; tries < 500 && isAlive(pid); tries++) await new Promise((resolve) => setTimeout(resolve, 20));
    expect(isAlive(pid)).toBe(false);
    makePool();
    const other = (await run('pid')) as number;
    pool?.destroy();
    for (let tries = 0; tries < 500 && isAlive(other); tries++) await new Promise((resolve) => setTimeout(resolve, 20));
    expect(isAlive(other)).toBe(false);
  });
});
