import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { GET as getBoard, POST as postBoard } from '@/app/api/board/route';
import { GET as getChecks } from '@/app/api/checks/route';
import { GET as getEvents } from '@/app/api/jobs/events/route';
import { GET as getJobs } from '@/app/api/jobs/route';
import { POST as postShelf } from '@/app/api/motions/route';
import { POST as postSelection } from '@/app/api/selections/route';
import type { Board, CarriedBoard } from '@/contract/board';
import type { JobView } from '@/contract/jobs';
import { WALK } from '@/core/house/gait-settings';
import { drillResults } from '@/server/board/drill-results';
import { freeName } from '@/server/characters/character-repository';
import { database } from '@/server/database/connection';
import { models } from '@/server/database/models';
import { changeFit } from '@/server/fits/change-fit';
import { setDrillSource } from '@/server/fits/drill-results';
import { findCurrentFit } from '@/server/fits/fit-repository';
import { addFile } from '@/server/intake/add-files';
import { deleteCharacter } from '@/server/intake/delete-character';
import { databaseQueue } from '@/server/jobs/database-queue';
import { tellJob } from '@/server/jobs/job-events';
import type { JobNews } from '@/server/jobs/job-queue';
import { handOff } from '@/server/packs/hand-off';
import { leastStatementsOf, statementsOf } from '../helpers/count-statements';
import { withFreshDatabase } from './fresh-database';
import { untilOver } from './over-http';

withFreshDatabase();

const bytes = new Uint8Array(readFileSync('demo/files/lamplighter.glb'));
const take = async () => (await addFile({ bytes, fileName: 'lamplighter.glb', author: 'Maren' })).id;
const post = (body: unknown) =>
  new Request('http://127.0.0.1/api', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
const shelveWalk = (name: string) => postShelf(post({ house: { entry: 'walk', settings: WALK }, name }));
const board = async (query = ''): Promise<{ board: Board; length: number }> => {
  const text = await (await getBoard(new Request(`http://127.0.0.1/api/board${query}`))).text();
  return { board: JSON.parse(text) as Board, length: text.length };
};

describe('what a request costs', () => {
  it('a change of a fit and a page of the board take as many statements for one motion and one character as for many', async () => {
    setDrillSource(drillResults);
    const first = await take();
    await shelveWalk('Walk 1');
    await untilOver(
      (
        (await (await postBoard(post({ characterIds: [first], motionKeys: ['house-crouch'] }))).json()) as {
          job: JobView;
        }
      ).job.id,
    );
    const turn = async () => {
      const baseRevision = (await findCurrentFit(first))?.revision ?? 0;
      const kind = baseRevision % 2 === 0 ? 'align-posture' : 'reset-posture';
      expect(await changeFit(first, { kind }, { baseRevision, author: 'Odo' })).toMatchObject({ ok: true });
    };
    await turn();
    const change = [await leastStatementsOf(turn)];
    const read = [await leastStatementsOf(() => board())];
    const checks = async () => (await getChecks(new Request('http://127.0.0.1/api/checks'))).text();
    await checks();
    const checked = [await leastStatementsOf(checks)];
    for (let at = 2; at <= 12; at++) await shelveWalk(`Walk ${at}`);
    for (let at = 0; at < 11; at++) await take();
    change.push(await leastStatementsOf(turn));
    read.push(await leastStatementsOf(() => board()));
    await checks();
    checked.push(await leastStatementsOf(checks));
    expect(change[0]).toBeGreaterThan(3);
    expect(change[1]).toBe(change[0]);
    expect(read[1]).toBe(read[0]);
    // Readings are at hand by then, and everything else is asked for together.
    expect(checked[1]).toBe(checked[0]);
  });

  it('a page of the board is as large for thousands of characters as for the page', async () => {
    const id = await take();
    await copiesOf(id, 1_999);
    const whole = await board();
    expect(whole.board.total).toBe(2_000);
    expect(whole.board.characters).toHaveLength(100);
    const names = whole.board.characters.map(({ name }) => name);
    const next = await board('?page=2');
    expect(next.board.characters.filter(({ name }) => names.includes(name))).toEqual([]);
    expect(next.length).toBeLessThan(whole.length * 1.1);
    expect((await board('?page=2&size=20')).board.characters).toHaveLength(20);
  });

  it('hundreds of characters are named by a selection, which has the same name for the same ones', async () => {
    const id = await take();
    await copiesOf(id, 599);
    const ids = (await models().Character.findAll({ attributes: ['id'] })).map((row) => row.id);
    const keep = async (characterIds: string[]) =>
      ((await (await postSelection(post({ characterIds }))).json()) as { selection: string }).selection;
    const selection = await keep(ids.slice(0, 500));
    expect(await keep([...ids.slice(0, 500)].reverse())).toBe(selection);
    expect((await board(`?selection=${selection}`)).board.total).toBe(500);
    const unknown = await getBoard(new Request(`http://127.0.0.1/api/board?selection=${'0'.repeat(32)}`));
    expect(unknown.status).toBe(422);
  });

  it('a free name takes one statement, however many have it', async () => {
    const id = await take();
    await models().Character.update({ name: 'Dancer' }, { where: { id } });
    await copiesOf(id, 300, 'Dancer');
    const found: string[] = [];
    const count = await statementsOf(() =>
      database().transaction(async (transaction) => found.push(await freeName('Dancer', transaction))),
    );
    expect(found).toEqual(['Dancer 302']);
    // Begin, one question, commit.
    expect(count).toBeLessThanOrEqual(4);
    await database().transaction(async (transaction) => {
      expect(await freeName('Dan', transaction)).toBe('Dan');
      expect(await freeName('Dancer 2', transaction)).toBe('Dancer 2 2');
    });
  });
});

/** Rows of further characters, as if each had been taken in; their readings are not there. */
async function copiesOf(id: string, count: number, name = 'Copy'): Promise<void> {
  const [characters, fits, changes] = [[], [], []] as Record<string, unknown>[][];
  const { Character, Fit, FitChange } = models();
  const character = (await Character.findByPk(id))?.get({ plain: true }) as object;
  const fit = (await Fit.findOne({ where: { characterId: id } }))?.get({ plain: true }) as { id: string };
  const change = (await FitChange.findOne({ where: { fitId: fit.id } }))?.get({ plain: true }) as object;
  for (let at = 0; at < count; at++) {
    const [characterId, fitId] = [crypto.randomUUID(), crypto.randomUUID()];
    characters.push({ ...character, id: characterId, name: `${name} ${at + 2}` });
    fits.push({ ...fit, id: fitId, characterId });
    changes.push({ ...change, fitId });
  }
  await Character.bulkCreate(characters as never);
  await Fit.bulkCreate(fits as never);
  await FitChange.bulkCreate(changes as never);
}

describe('events of jobs', () => {
  const news = (change: Partial<JobNews> = {}): JobNews => ({
    id: crypto.randomUUID(),
    kind: 'intake',
    subject: 's',
    label: 'eel.glb',
    state: 'running',
    progress: 0.5,
    stage: '',
    attempts: 1,
    author: 'Maren',
    createdAt: '2026-01-01T00:00:00.000Z',
    updatedAt: '2026-01-01T00:00:00.000Z',
    problem: null,
    result: null,
    ...change,
  });
  const open = async (headers: Record<string, string> = {}) => {
    const abort = new AbortController();
    const response = await getEvents(
      new Request('http://127.0.0.1/api/jobs/events', { headers, signal: abort.signal }),
    );
    return { reader: (response.body as ReadableStream<Uint8Array>).getReader(), abort };
  };
  const readAll = async (reader: ReadableStreamDefaultReader<Uint8Array>): Promise<string> => {
    let text = '';
    for (let part = await reader.read(); !part.done; part = await reader.read())
      text += new TextDecoder().decode(part.value);
    return text;
  };

  it('do not carry what a job has made so far, and lists do not either', async () => {
    const { id } = await databaseQueue.add({
      ...{ id: crypto.randomUUID(), kind: 'rematch', subject: 'x', label: 'x', author: 'x' },
      payload: { characterId: crypto.randomUUID(), definitionId: 'quay' },
    });
    await untilOver(id);
    await models().Job.update({ result: JSON.stringify({ long: 'x'.repeat(50_000) }) }, { where: { id } });
    const { reader, abort } = await open();
    await reader.read();
    await databaseQueue.retry(id);
    await models().Job.update({ state: 'failed' }, { where: { id } });
    await databaseQueue.retry(id);
    const { value } = await reader.read();
    expect(value?.length).toBeLessThan(1_500);
    abort.abort();
    const list = await (await getJobs(new Request('http://127.0.0.1/api/jobs'))).text();
    expect(list.length).toBeLessThan(3_000);
  });

  it('wait for a slow reader up to a bound; then it is cut off, comes back and catches up by number', async () => {
    const slow = await open();
    const busy = Array.from({ length: 40 }, () => news());
    for (let round = 0; round < 100; round++)
      for (const job of busy) tellJob({ ...job, progress: round / 100, stage: `round ${round}` });
    const held = await readAll(slow.reader);
    // Four thousand changes of some 300 bytes were told; what waited for it is bounded.
    expect(held.length).toBeLessThan(80 * 1024);
    const last = /id: (\S+)\n\n[^]*?$/.exec(held.slice(held.lastIndexOf('\nid: ')))?.[1] ?? '';
    expect(last).toMatch(/^[0-9a-f]{8}-\d+$/);
    const again = await open({ 'last-event-id': last });
    let text = '';
    while ((text.match(/^event: job$/gm) ?? []).length < 40)
      text += new TextDecoder().decode((await again.reader.read()).value);
    const told = [...text.matchAll(/^data: (.*)$/gm)].map(([, data]) => JSON.parse(data) as JobNews);
    expect(new Set(told.map(({ id }) => id))).toEqual(new Set(busy.map(({ id }) => id)));
    expect(told.every(({ stage }) => stage === 'round 99')).toBe(true);
    again.abort.abort();
  });

  it('say that too much was missed where numbers are of another run', async () => {
    const { reader, abort } = await open({ 'last-event-id': '00000000-7' });
    let text = '';
    while (!text.includes('event: missed')) text += new TextDecoder().decode((await reader.read()).value);
    abort.abort();
  });
});

describe('board work', () => {
  it('goes on where a character or a motion was deleted meanwhile, and names it', async () => {
    const [kept, gone] = [await take(), await take()];
    const answer = (await (
      await postShelf(post({ house: { entry: 'walk', settings: WALK }, name: 'Lost walk' }))
    ).json()) as { motions: { id: string }[] };
    const motion = answer.motions[0].id;
    const queued = (await (
      await postBoard(post({ characterIds: [kept, gone], motionKeys: ['house-walk', 'house-crouch', motion] }))
    ).json()) as { job: JobView };
    await models().Motion.destroy({ where: { id: motion } });
    await deleteCharacter(gone, { withPacks: false });
    const over = await untilOver(queued.job.id);
    expect(over.problem).toBeNull();
    expect(over.state).toBe('done');
    const result = over.result as CarriedBoard;
    expect(result.gone).toContain('Lamplighter 2');
    expect((await board()).board.cells.map(({ motionKey }) => motionKey).sort()).toEqual(
      expect.arrayContaining(['house-crouch', 'house-walk']),
    );
  });

  it('is about cells of its own, so that two jobs are worked on at the same time', async () => {
    const [a, b] = [await take(), await take()];
    const ask = async (id: string) =>
      ((await (await postBoard(post({ characterIds: [id], motionKeys: ['house-walk'] }))).json()) as { job: JobView })
        .job;
    const [first, second] = [await ask(a), await ask(b)];
    expect(first.subject).not.toBe(second.subject);
    await untilOver(first.id);
    await untilOver(second.id);
  });

  it('that was cut off goes on with the cells it has not made yet', async () => {
    const id = await take();
    const keys = ['house-walk', 'house-crouch', 'house-idle'];
    const { job } = (await (await postBoard(post({ characterIds: [id], motionKeys: keys }))).json()) as {
      job: JobView;
    };
    await untilOver(job.id);
    const before = await models().Carried.findAll({ where: { characterId: id }, order: [['motionKey', 'ASC']] });
    await models().Carried.destroy({ where: { characterId: id, motionKey: 'house-idle' } });
    // As it stands when the server was killed in the middle of it and starts again.
    await models().Job.update({ state: 'failed', result: null }, { where: { id: job.id } });
    await databaseQueue.retry(job.id);
    expect((await untilOver(job.id)).result).toEqual({ cells: 3, failed: 0, gone: [] });
    const after = await models().Carried.findAll({ where: { characterId: id }, order: [['motionKey', 'ASC']] });
    const times = (rows: typeof after) =>
      new Map(rows.map(({ motionKey, carriedAt }) => [motionKey, carriedAt.getTime()]));
    const [was, is] = [times(before), times(after)];
    expect(is.get('house-walk')).toBe(was.get('house-walk'));
    expect(is.get('house-crouch')).toBe(was.get('house-crouch'));
    expect(is.get('house-idle')).toBeGreaterThan(was.get('house-idle') as number);
  });
});

it('a pack of a character that is deleted while it is made says just that', async () => {
  const id = await take();
  const fit = await findCurrentFit(id);
  await changeFit(id, { kind: 'align-posture' }, { baseRevision: fit?.revision ?? 0, author: 'Maren' });
  const work = handOff(id, 'Maren');
  await deleteCharacter(id, { withPacks: false });
  expect(await work).toBeNull();
  expect(await models().Handoff.count()).toBe(0);
});
