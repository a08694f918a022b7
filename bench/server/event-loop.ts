import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { chmod, mkdtemp, readFile, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { TIDEWATER } from '@/core/profile/shipped';
import { findFreePort } from '@/server/database/private-server';
import { YarvoProcess } from '../../tests/hardness/yarvo-process';

/**
 * `npx tsx bench/server/event-loop.ts`: how long the web server's event loop is held up at most while it takes the largest
 * input that each route allows, against the same while only health is asked for, in one run. Nothing in an input may keep
 * the others waiting: what is large is parsed and worked on elsewhere.
 */
const MEGABYTE = 1024 * 1024;
const HEALTH_CALLS = 400;

const folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-delay-'));
// The database's own user must be able to pass through.
await chmod(folder, 0o755);
const file = path.join(folder, 'delay.json');
const yarvo = new YarvoProcess(path.join(folder, 'data'), await findFreePort(), {
  NODE_OPTIONS: `--import=${path.join(import.meta.dirname, 'delay-on-signal.mjs')}`,
  YARVO_DELAY_FILE: file,
});

async function heldUp(work: () => Promise<unknown>): Promise<{ mostMs: number; usualMs: number }> {
  const read = async () => {
    await rm(file, { force: true });
    process.kill(await yarvo.pidOf('web'), 'SIGUSR2');
    for (;;) {
      const text = await readFile(file, 'utf8').catch(() => null);
      if (text) return JSON.parse(text) as { mostMs: number; usualMs: number };
      await wait(20);
    }
  };
  await read();
  await work();
  return read();
}

const at = (address: string) => `${yarvo.url}${address}`;
const post = (address: string, body: BodyInit, type = 'application/octet-stream') =>
  fetch(at(address), { method: 'POST', body, headers: type === '' ? {} : { 'content-type': type } });
const json = (address: string, body: unknown) => post(address, JSON.stringify(body), 'application/json');
const health = async () => {
  for (let call = 0; call < HEALTH_CALLS; call++) await (await fetch(at('/api/health'))).json();
};
async function upload(name: string, body: BodyInit): Promise<string | null> {
  const { job } = (await (await post(`/api/characters?name=${name}`, body)).json()) as { job?: { id: string } };
  while (job) {
    const answer = (await (await fetch(at(`/api/jobs/${job.id}`))).json()) as {
      job: { state: string; result: { characters: { id: string }[] } | null };
    };
    if (!['queued', 'running'].includes(answer.job.state)) return answer.job.result?.characters[0]?.id ?? null;
    await wait(100);
  }
  return null;
}

/** A character's file, and behind its end as many bytes as an upload may have: legal to ignore, and kept. */
function largeGlb(megabytes: number): Uint8Array {
  const bytes = new Uint8Array(megabytes * MEGABYTE);
  bytes.set(readFileSync(path.resolve(import.meta.dirname, '../../demo/files/lamplighter.glb')));
  return bytes;
}

function motionFile(jsonMegabytes: number, wholeMegabytes: number): Uint8Array {
  const bytes = new Uint8Array(wholeMegabytes * MEGABYTE).fill(0x5b);
  bytes.set(new TextEncoder().encode('YVM1'));
  const view = new DataView(bytes.buffer);
  view.setUint32(4, jsonMegabytes * MEGABYTE, true);
  view.setUint32(8, 0, true);
  return bytes;
}

const form = (count: number): FormData => {
  const body = new FormData();
  for (let each = 0; each < count; each++) body.append('file', new Blob([`picture ${each}`]), `pictures/${each}.png`);
  return body;
};

const bones = Array.from({ length: 2_000 }, (_, index) => ({
  name: `bone ${index} ${'x'.repeat(100)}`,
  parent: index === 0 ? null : `bone ${index - 1} ${'x'.repeat(100)}`,
  translation: [0, 0.1, 0],
  rotation: [0, 0, 0, 1],
  role: null,
}));

try {
  await yarvo.start();
  await health();
  const quiet = await heldUp(health);
  let character = '';
  const inputs: readonly (readonly [string, () => Promise<unknown>])[] = [
    ['a file of 250 MB', async () => (character = (await upload('large.glb', largeGlb(250) as BodyInit)) ?? '')],
    ['a form of 2,000 files', () => post('/api/characters', form(2_000), '')],
    ['a motion file of 250 MB', () => post('/api/motions/kept?name=m', motionFile(7, 250) as BodyInit)],
    ['a motion file that is all JSON', () => post('/api/motions/kept?name=m', motionFile(240, 250) as BodyInit)],
    ['a skeleton from 250 MB', () => post('/api/profiles/skeleton?name=s.glb', largeGlb(250) as BodyInit)],
    [
      'a profile with a skeleton of 2,000 bones',
      () => json('/api/profiles', { ...TIDEWATER, id: 'wide', version: 1, skeleton: { label: 'Wide', bones } }),
    ],
    [
      'a selection of 5,000',
      () => json('/api/selections', { characterIds: Array.from({ length: 5_000 }, () => randomUUID()) }),
    ],
    ['1 MB of JSON that is none', () => post('/api/archive', '['.repeat(MEGABYTE - 1), 'application/json')],
    [
      'a change of the fit',
      () => json(`/api/characters/${character}/fit/changes`, { baseRevision: 0, action: { kind: 'align-posture' } }),
    ],
    ['a character', async () => (await fetch(at(`/api/characters/${character}`))).arrayBuffer()],
    ['all checks', async () => (await fetch(at('/api/checks'))).text()],
  ];
  const rows = [['health alone', quiet, 1] as const];
  for (const [what, work] of inputs) {
    const found = await heldUp(async () => {
      const answer = await work();
      if (answer instanceof Response) await answer.arrayBuffer();
    });
    rows.push([what, found, found.mostMs / quiet.mostMs] as never);
  }
  process.stdout.write('input                                      most ms   p99 ms   against health\n');
  for (const [what, { mostMs, usualMs }, ratio] of rows)
    process.stdout.write(
      `${what.padEnd(42)} ${mostMs.toFixed(1).padStart(7)} ${usualMs.toFixed(1).padStart(8)} ${ratio.toFixed(2).padStart(10)}\n`,
    );
} finally {
  await yarvo.stop();
  await rm(folder, { recursive: true, force: true });
}
