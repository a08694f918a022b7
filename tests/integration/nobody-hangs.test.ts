import { existsSync } from 'node:fs';
import { readdir } from 'node:fs/promises';
import os from 'node:os';
import { describe, expect, it } from 'vitest';
import { POST as postCharacters } from '@/app/api/characters/route';
import type { JobView } from '@/contract/jobs';
import type { Problem } from '@/core/errors/yarvo-error';
import { eelSeller } from '../../demo/cast/eel-seller';
import { writeFigure } from '../../demo/figure/write-figure';
import { countRows, withFreshDatabase } from './fresh-database';
import { untilOver } from './over-http';

withFreshDatabase();

const formOf = (count: number, bytes: Uint8Array): FormData => {
  const form = new FormData();
  form.append('file', new Blob([bytes as BlobPart]), 'eel/eel.glb');
  for (let at = 1; at < count; at++) form.append('file', new Blob([`picture ${at}`]), `eel/tex-${at}.png`);
  return form;
};
const post = (body: FormData) =>
  postCharacters(new Request('http://yarvo.test/api/characters', { method: 'POST', body }));

describe('an upload of more files than one may have', () => {
  it('takes the first 2,000, and names those that it did not take', async () => {
    const response = await post(formOf(2_003, await writeFigure(eelSeller())));
    expect(response.status).toBe(202);
    const { job, excess } = (await response.json()) as { job: JobView; excess: Problem };
    expect(excess.message).toMatch(/2000 were taken; 3 files from "eel\/tex-2000\.png" on were not/);
    expect((await untilOver(job.id)).state).toBe('done');
    // The model, its reading's mesh and motion, and 1,999 pictures.
    expect(await countRows()).toMatchObject({ characters: 1, blobs: 2_002 });
  });

  it('that breaks off in the middle of many parts is refused, and leaves no folder', async () => {
    const whole = new Uint8Array(await new Response(formOf(2_100, new Uint8Array(10))).arrayBuffer());
    const boundary = new TextDecoder().decode(whole.subarray(2, whole.indexOf(13)));
    for (const share of [0.3, 0.99]) {
      const response = await postCharacters(
        new Request('http://yarvo.test/api/characters', {
          method: 'POST',
          body: whole.slice(0, Math.floor(whole.length * share)) as BodyInit,
          headers: { 'content-type': `multipart/form-data; boundary=${boundary}` },
        }),
      );
      expect(response.status).toBe(400);
    }
    const left = (await readdir(os.tmpdir())).filter((name) => name.startsWith(`yarvo-upload-${process.pid}-`));
    expect(left.filter((name) => existsSync(`${os.tmpdir()}/${name}`))).toEqual([]);
  });
});
