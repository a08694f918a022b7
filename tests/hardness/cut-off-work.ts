import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import type { JobView } from '@/contract/jobs';
import type { YarvoProcess } from './yarvo-process';

const PATIENCE_MS = 120_000;
const LOOK_MS = 100;
const MODELS = ['lamplighter.glb', 'quay-walk.bvh', 'lantern.glb'];
const demo = (name: string) => readFile(path.resolve(import.meta.dirname, '../../demo/files', name));

/**
 * Kills the web server in the middle of intake and packing, each time a little later in the work, and holds what was
 * acknowledged against what is there in the end.
 * @returns what does not agree.
 */
export async function cutOffWork(yarvo: YarvoProcess, kills: number, stepMs: number): Promise<string[]> {
  const contents = await Promise.all(MODELS.map(demo));
  const jobs: string[] = [];
  const packs: string[] = [];
  const send = async (address: string, body?: FormData): Promise<JobView> => {
    const answer = await fetch(yarvo.url + address, { method: 'POST', body });
    if (answer.status !== 202) throw new Error(`${address}: ${answer.status} ${await answer.text()}`);
    return ((await answer.json()) as { job: JobView }).job;
  };
  const upload = async (name: string): Promise<string> => {
    const form = new FormData();
    MODELS.forEach((model, at) => form.append('file', new File([contents[at]], `${name}/${name}-${model}`)));
    const { id } = await send(`/api/characters?upload=${randomUUID()}`, form);
    jobs.push(id);
    return id;
  };
  const first = await over(yarvo, await upload('before'));
  const [{ id: character }] = (first.result as { characters: { id: string }[] }).characters;
  for (let kill = 0; kill < kills; kill++) {
    await upload(`cut-${kill}`);
    packs.push((await send(`/api/characters/${character}/handoffs?job=${randomUUID()}`)).id);
    await wait(kill * stepMs);
    await yarvo.kill('web');
    await yarvo.whenAnswering();
  }
  const complaints: string[] = [];
  for (const id of jobs) {
    const job = await over(yarvo, id);
    const made = (job.result as { characters?: unknown[] } | null)?.characters?.length ?? 0;
    if (job.state !== 'done' || made !== MODELS.length)
      complaints.push(`lost: ${job.label} is ${job.state} with ${made} characters: ${JSON.stringify(job.problem)}`);
  }
  let versions = 0;
  for (const id of packs) {
    const job = await over(yarvo, id);
    if (job.state === 'done') versions++;
    else complaints.push(`lost: a pack is ${job.state}: ${JSON.stringify(job.problem)}`);
  }
  const roster = (await (await fetch(`${yarvo.url}/api/characters?size=500`)).json()) as {
    characters: { fileName: string }[];
  };
  const names = roster.characters.map(({ fileName }) => fileName);
  if (new Set(names).size !== names.length) complaints.push(`doubled: ${names.sort().join(' ')}`);
  if (names.length !== jobs.length * MODELS.length)
    complaints.push(`${names.length} characters of ${jobs.length} uploads`);
  const view = (await (await fetch(`${yarvo.url}/api/characters/${character}`)).json()) as { handoffs: unknown[] };
  if (view.handoffs.length !== versions) complaints.push(`${view.handoffs.length} packs of ${versions} jobs`);
  return complaints;
}

async function over(yarvo: YarvoProcess, id: string): Promise<JobView> {
  for (const until = Date.now() + PATIENCE_MS; ;) {
    const answer = await fetch(`${yarvo.url}/api/jobs/${id}`).then(
      (response) => (response.ok ? (response.json() as Promise<{ job: JobView }>) : null),
      () => null,
    );
    if (answer && ['done', 'failed', 'cancelled'].includes(answer.job.state)) return answer.job;
    if (Date.now() > until) throw new Error(`job ${id} is never done: ${JSON.stringify(answer)}`);
    await wait(LOOK_MS);
  }
}
