import { describe, expect, it } from 'vitest';
import type { JobKind } from '@/contract/jobs';
import { YarvoError } from '@/core/errors/yarvo-error';
import { inTransaction } from '@/server/database/transaction';
import { models } from '@/server/database/models';
import { databaseQueue as queue } from '@/server/jobs/database-queue';
import { JobLost, type NewJob } from '@/server/jobs/job-queue';
import { JobRunner, type JobHandler, type JobHandlers } from '@/server/jobs/runner';
import { setTimeout as wait } from 'node:timers/promises';
import { withFreshDatabase } from './fresh-database';

// Its own jobs would be worked on by somebody else.
withFreshDatabase({ withRunner: false });

const LEASE = 60_000;
const job = (change: Partial<NewJob> = {}): NewJob => ({
  id: crypto.randomUUID(),
  kind: 'intake',
  subject: crypto.randomUUID(),
  label: 'eel.glb',
  author: 'Maren',
  payload: { uploadId: 'u' },
  ...change,
});

/** What every adapter of the queue keeps. */
describe('a job queue', () => {
  it('gives each job to one owner, the higher priority first, then in the order they came', async () => {
    const [first, second, urgent] = [job(), job(), job({ priority: 5 })];
    for (const one of [first, second, urgent]) await queue.add(one);
    const claims = await Promise.all(['a', 'b', 'c', 'd', 'e'].map((owner) => queue.claim(owner, LEASE)));
    const taken = claims.filter((claim) => claim !== null).map(({ id }) => id);
    expect([...taken].sort()).toEqual([first.id, second.id, urgent.id].sort());
    const others: string[] = [];
    for (const one of [job(), job(), job({ priority: 5 })]) others.push((await queue.add(one)).id);
    expect((await queue.claim('a', LEASE))?.id).toBe(others[2]);
    expect((await queue.claim('a', LEASE))?.id).toBe(others[0]);
  });

  it('lets jobs of one subject follow each other', async () => {
    const [first, second] = [job({ subject: 'one' }), job({ subject: 'one' })];
    await queue.add(first);
    await queue.add(second);
    expect((await queue.claim('a', LEASE))?.id).toBe(first.id);
    expect(await queue.claim('b', LEASE)).toBeNull();
    await queue.finish(first.id, 'a', { state: 'done', result: null });
    expect((await queue.claim('b', LEASE))?.id).toBe(second.id);
  });

  it('gives long jobs their turn, however many short ones keep arriving', async () => {
    const [long, other] = [job({ label: 'long' }), job({ label: 'other' })];
    await queue.add(long);
    await queue.add(other);
    const order: string[] = [];
    for (let step = 0; step < 12; step++) {
      await queue.add(job({ label: 'short' }));
      const taken = await queue.claim('a', LEASE);
      if (!taken) break;
      order.push(taken.label);
      if (taken.label === 'short') await queue.finish(taken.id, 'a', { state: 'done', result: null });
      else await queue.letOthersGo(taken.id, 'a');
      await wait(2);
    }
    // Each of the long ones again and again, and what came before them in between.
    for (const label of ['long', 'other', 'short'])
      expect(order.filter((each) => each === label).length, label).toBeGreaterThan(2);
    expect(order.slice(0, 2)).toEqual(['long', 'other']);
  });

  it('keeps one job of an id, and one that was added in a transaction only with it', async () => {
    const one = job();
    await queue.add(one);
    expect((await queue.add({ ...one, label: 'other' })).label).toBe('eel.glb');
    const two = job();
    const broken = inTransaction(async (transaction) => {
      await queue.add(two, transaction);
      throw new Error('not after all');
    });
    await expect(broken).rejects.toThrow();
    expect(await queue.find(two.id)).toBeNull();
  });

  it('gives a job back when its lease ends, with what was kept, and what the former owner says counts no more', async () => {
    const { id } = await queue.add(job());
    await queue.claim('a', LEASE);
    await inTransaction((transaction) => queue.keep(id, 'a', { made: 1 }, transaction));
    await models().Job.update({ leaseUntil: new Date(0) }, { where: { id } });
    expect(await queue.claim('b', LEASE)).toMatchObject({ id, attempts: 2, result: { made: 1 } });
    expect(await queue.renew(id, 'a', LEASE, { share: 0.5, stage: '' })).toBe('lost');
    expect(await queue.finish(id, 'a', { state: 'done', result: null })).toBe(false);
    const late = inTransaction((transaction) => queue.keep(id, 'a', { made: 2 }, transaction));
    await expect(late).rejects.toBeInstanceOf(JobLost);
    expect(await queue.finish(id, 'b', { state: 'done', result: { made: 3 } })).toBe(true);
    expect(await queue.find(id)).toMatchObject({ state: 'done', result: { made: 3 }, progress: 1 });
  });

  it('fails a job that ended its owner twenty times, and takes it again when a person asks', async () => {
    const { id } = await queue.add(job());
    for (let count = 0; count < 20; count++) {
      expect((await queue.claim(`owner ${count}`, LEASE))?.id).toBe(id);
      expect(await queue.release('nobody')).toBe(1);
    }
    expect(await queue.claim('a', LEASE)).toBeNull();
    expect(await queue.find(id)).toMatchObject({ state: 'failed', problem: { code: 'gave-up' } });
    expect(await queue.retry(id)).toMatchObject({ state: 'queued', attempts: 0, problem: null });
    expect((await queue.claim('a', LEASE))?.id).toBe(id);
    expect(await queue.retry(id)).toBeNull();
  });

  it('cancels at once where nobody is at it, and tells an owner who is', async () => {
    const [waiting, running] = [await queue.add(job({ priority: -1 })), await queue.add(job())];
    await queue.claim('a', LEASE);
    expect(await queue.cancel(waiting.id)).toMatchObject({ state: 'cancelled' });
    expect(await queue.cancel(running.id)).toMatchObject({ state: 'running', isCancelled: true });
    expect(await queue.renew(running.id, 'a', LEASE, { share: 0.2, stage: 'x' })).toBe('cancelled');
    const late = inTransaction((transaction) => queue.keep(running.id, 'a', 1, transaction));
    await expect(late).rejects.toBeInstanceOf(JobLost);
    expect(await queue.finish(running.id, 'a', { state: 'cancelled' })).toBe(true);
    expect(await queue.cancel(crypto.randomUUID())).toBeNull();
  });

  it('lists by state, kind and subject, and forgets what was over long ago', async () => {
    const done = await queue.add(job({ subject: 'one' }));
    await queue.claim('a', LEASE);
    await queue.finish(done.id, 'a', { state: 'done', result: 1 });
    await queue.add(job({ subject: 'two', kind: 'pack' }));
    expect((await queue.list({ states: ['done'] })).map(({ id }) => id)).toEqual([done.id]);
    expect(await queue.list({ subject: 'two', kind: 'pack' })).toHaveLength(1);
    expect(await queue.forget(new Date(Date.now() + 1000))).toBe(1);
    expect(await queue.list({})).toHaveLength(1);
  });
});

describe('a job runner', () => {
  const handlers = (intake: JobHandler): JobHandlers => {
    const none: JobHandler = { work: () => Promise.resolve(null) };
    return { intake, pack: none, rematch: none, carry: none, 'motion-out': none } satisfies Record<JobKind, JobHandler>;
  };

  it('goes on with what an earlier owner kept', async () => {
    const { id } = await queue.add(job());
    const first = new JobRunner(
      queue,
      handlers({
        async work({ keep }) {
          await inTransaction((transaction) => keep({ made: ['a'] }, transaction));
          // As if the process had been killed here.
          throw new JobLost(id);
        },
      }),
      1,
    );
    await first.drain();
    expect(await queue.find(id)).toMatchObject({ state: 'running', result: { made: ['a'] } });
    let seen: unknown;
    const second = new JobRunner(queue, handlers({ work: async ({ kept }) => void (seen = kept) }), 1);
    await queue.release(second.owner);
    await second.drain();
    expect(seen).toEqual({ made: ['a'] });
    expect((await queue.find(id))?.state).toBe('done');
  });

  it('says what a person is told of a failure, and nothing else', async () => {
    const refused = new YarvoError({ code: 'no-model', message: 'No.', place: 'x', remedy: 'Send one.' });
    const [told, hidden] = [await queue.add(job()), await queue.add(job())];
    const errors = [refused, new Error('SELECT secret FROM path')];
    const runner = new JobRunner(queue, handlers({ work: () => Promise.reject(errors.shift() as Error) }), 1);
    await runner.drain();
    expect((await queue.find(told.id))?.problem).toMatchObject({ code: 'no-model', message: 'No.' });
    expect(JSON.stringify((await queue.find(hidden.id))?.problem)).not.toMatch(/secret|path/);
  });

  it('ends work that is cancelled in the middle, and takes back what was kept', async () => {
    const { id } = await queue.add(job());
    let takenBack: unknown;
    const runner = new JobRunner(
      queue,
      handlers({
        async work({ signal, keep }) {
          await inTransaction((transaction) => keep({ made: 1 }, transaction));
          await wait(60_000, undefined, { signal });
        },
        takeBack: async (kept) => void (takenBack = kept),
      }),
      2,
    );
    runner.start();
    while ((await queue.find(id))?.result === null) await wait(5);
    await queue.cancel(id);
    while ((await queue.find(id))?.state !== 'cancelled') await wait(5);
    expect(takenBack).toEqual({ made: 1 });
    await runner.stop();
  });

  it('that is stopped leaves its work in the queue', async () => {
    const { id } = await queue.add(job());
    const waits: JobHandler = { work: ({ signal }) => wait(60_000, undefined, { signal }) };
    const runner = new JobRunner(queue, handlers(waits), 1);
    runner.start();
    while ((await queue.find(id))?.state !== 'running') await wait(5);
    await runner.stop();
    expect((await queue.find(id))?.state).toBe('running');
    expect(await queue.release('another')).toBe(1);
  });

  it('that is stopped between claiming a job and working on it does not begin', async () => {
    const { id } = await queue.add(job());
    let isWorked = false;
    const work: JobHandler = {
      work: async ({ signal }) => {
        await wait(60_000, undefined, { signal });
        isWorked = true;
      },
    };
    const claim = queue.claim.bind(queue);
    const runner = new JobRunner(queue, handlers(work), 1);
    let stopped: Promise<void> | null = null;
    queue.claim = async (...args) => {
      const claimed = await claim(...args);
      if (claimed) stopped = runner.stop();
      return claimed;
    };
    try {
      runner.start();
      while (!stopped) await wait(5);
      await (stopped as Promise<void>);
    } finally {
      queue.claim = claim;
    }
    expect(isWorked).toBe(false);
    expect((await queue.find(id))?.state).toBe('running');
    await queue.release('another');
  });
});
