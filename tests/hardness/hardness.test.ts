import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { expect, it, vi } from 'vitest';
import { isAlive } from '@/server/database/orphan';
import { findFreePort } from '@/server/database/private-server';
import { proofSize } from '../helpers/proof-size';
import { cutOffWork } from './cut-off-work';
import { runSoak } from './soak';
import { YarvoProcess } from './yarvo-process';

/** The soak of `tests/hardness/run.ts`, short: one kill of each part. How long things take is not asked here. */
it(
  'no change is lost, doubled or invented while web server, database and supervisor are killed in turn',
  { timeout: 900_000 },
  async () => {
    const data = await mkdtemp(path.join(os.tmpdir(), 'yarvo-hardness-'));
    const yarvo = new YarvoProcess(data, await findFreePort());
    try {
      const report = await runSoak(yarvo, {
        characters: 4,
        writers: 5,
        kills: 3,
        secondsBetweenKills: 3,
        quietSeconds: 3,
        say: () => {},
      });
      expect(report.complaints).toEqual([]);
      expect(report.kills).toEqual({ web: 1, database: 1, supervisor: 1 });
      // How many depends on the machine; that some were says that the soak was one.
      expect(report.acknowledged).toBeGreaterThan(2);
      expect(report.refused).toBeGreaterThan(0);
      // A closed terminal ends all of it, in order.
      const pids = await Promise.all((['web', 'database', 'supervisor'] as const).map((part) => yarvo.pidOf(part)));
      expect(await yarvo.stop('SIGHUP')).toBe(0);
      expect(pids.filter(isAlive)).toEqual([]);
    } finally {
      await yarvo.stop();
      await rm(data, { recursive: true, force: true });
    }
  },
);

it(
  'work that was acknowledged is done, once, though the web server is killed in the middle of it',
  { timeout: 900_000 },
  async () => {
    const data = await mkdtemp(path.join(os.tmpdir(), 'yarvo-cut-off-'));
    const yarvo = new YarvoProcess(data, await findFreePort());
    try {
      await yarvo.start();
      expect(await cutOffWork(yarvo, proofSize(2, 6), 40)).toEqual([]);
    } finally {
      await yarvo.stop();
      await rm(data, { recursive: true, force: true });
    }
  },
);

it(
  'a web server that runs and does not answer is replaced, one that is stopped is not; a database that stands still is told',
  { timeout: 900_000 },
  async () => {
    const data = await mkdtemp(path.join(os.tmpdir(), 'yarvo-hang-'));
    const yarvo = new YarvoProcess(data, await findFreePort());
    try {
      await yarvo.start();
      const web = await yarvo.pidOf('web');
      // Twelve seconds in the middle of nothing, as a debugger or a busy host makes them.
      process.kill(web, 'SIGSTOP');
      await wait(12_000);
      process.kill(web, 'SIGCONT');
      await yarvo.whenAnswering();
      expect(await yarvo.pidOf('web')).toBe(web);

      const database = await yarvo.pidOf('database');
      process.kill(database, 'SIGSTOP');
      const roster = fetch(`${yarvo.url}/api/characters`);
      try {
        // The first answer may come from before it is known; each comes in five seconds.
        await vi.waitFor(async () => expect(await yarvo.health(5_000)).toMatchObject({ database: 'away' }), {
          timeout: 60_000,
        });
        // Given up by itself: the database has not come back by then.
        const answer = await roster;
        expect(answer.status).toBe(503);
        expect(await answer.json()).toMatchObject({ error: { code: 'database-away' } });
        expect(await (await fetch(yarvo.url)).text()).toContain('The database is away');
      } finally {
        process.kill(database, 'SIGCONT');
      }
      await yarvo.whenAnswering();
      expect((await fetch(`${yarvo.url}/api/characters`)).status).toBe(200);
      expect(await yarvo.pidOf('web')).toBe(web);

      await yarvo.hang();
      await yarvo.whenReplaced();
      expect(yarvo.said).toContain('it ran and did not answer');
    } finally {
      await yarvo.stop();
      await rm(data, { recursive: true, force: true });
    }
  },
);
