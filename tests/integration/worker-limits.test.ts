import { expect, it, vi } from 'vitest';
import { POST as retry } from '@/app/api/jobs/[jobId]/retry/route';
import { POST as postCharacter } from '@/app/api/characters/route';
import type { JobView } from '@/contract/jobs';
import { models } from '@/server/database/models';
import { CAST } from '../../demo/cast/cast';
import { countRows, withFreshDatabase } from './fresh-database';
import { untilOver } from './over-http';

// Before the settings are read: no worker is done in a millisecond.
vi.hoisted(() => {
  process.env.YARVO_WORKER_TIMEOUT_MS = '1';
});

withFreshDatabase();

it('a file whose worker is not done in time is given up in words, and stays for another try', async () => {
  const request = new Request('http://yarvo.test/api/characters?name=eel.glb', {
    method: 'POST',
    body: (await CAST['eel-seller.glb'].make()) as BodyInit,
    headers: { 'content-type': 'application/octet-stream' },
  });
  const { job } = (await (await postCharacter(request)).json()) as { job: JobView };
  const over = await untilOver(job.id);
  expect(over).toMatchObject({ state: 'failed', problem: { code: 'too-slow', place: 'eel.glb' } });
  expect(over.problem?.remedy).toMatch(/YARVO_WORKER_TIMEOUT_MS/);
  expect(await countRows()).toMatchObject({ characters: 0, blobs: 1 });
  const again = await retry(new Request('http://yarvo.test/', { method: 'POST' }), {
    params: Promise.resolve({ jobId: job.id }),
  });
  expect(again.status).toBe(200);
  expect((await untilOver(job.id)).problem?.code).toBe('too-slow');
  expect(await models().Upload.count()).toBe(1);
});
