import { expect, it } from 'vitest';
import { GET as getRoster } from '@/app/api/characters/route';
import type { RosterRow } from '@/contract/character-view';
import { archiveCharacters } from '@/server/intake/delete-character';
import { joinCharacters } from '@/server/intake/join-characters';
import { readRoster } from '@/server/characters/roster';
import { addFile } from '@/server/intake/add-files';
import { database } from '@/server/database/connection';
import { changeFit, redoFit, undoFit } from '@/server/fits/change-fit';
import { lamplighter } from '../../demo/cast/lamplighter';
import { writeFigure } from '../../demo/figure/write-figure';
import { withFreshDatabase } from './fresh-database';

withFreshDatabase();

const lamp = await writeFigure(lamplighter());
const add = async (fileName: string, bytes = lamp) => (await addFile({ bytes, fileName, author: 'Maren' })).id;
const names = async (query: Parameters<typeof readRoster>[0] = {}) =>
  (await readRoster(query)).rows.map(({ name }) => name);
const get = async (query: string) => {
  const answer = await getRoster(new Request(`http://yarvo.test/api/characters${query}`));
  return {
    status: answer.status,
    body: (await answer.json()) as {
      characters: RosterRow[];
      total: number;
      archived: number;
      page: number;
      size: number;
    },
  };
};

it('comes in pages, newest change first, each character once', async () => {
  const ids: string[] = [];
  for (const name of ['one', 'two', 'three', 'four', 'five']) ids.push(await add(`${name}.glb`));
  await changeFit(ids[1], { kind: 'clear', role: 'head' }, { baseRevision: 0, author: 'Odo' });
  const pages = [
    await readRoster({ size: 2 }),
    await readRoster({ size: 2, page: 2 }),
    await readRoster({ size: 2, page: 3 }),
  ];
  expect(pages.map(({ rows }) => rows.map(({ name }) => name))).toEqual([['Two', 'Five'], ['Four', 'Three'], ['One']]);
  expect(pages.map(({ total, page }) => [total, page])).toEqual([
    [5, 1],
    [5, 2],
    [5, 3],
  ]);
  expect(pages[0].rows[0]).toMatchObject({ updatedBy: 'Odo', isHumanoid: true, isArchived: false });
  expect((await readRoster({ size: 2, page: 9 })).rows).toEqual([]);
});

it('is searched by name, file and state, whatever the case, and no letter is a joker', async () => {
  await add('Night_watch.glb');
  await add('night watch 100%.glb');
  expect((await names({ text: ' NIGHT ' })).sort()).toEqual(['Night watch', 'Night watch 100%']);
  expect(await names({ text: '100%' })).toEqual(['Night watch 100%']);
  expect(await names({ text: 't_w' })).toEqual(['Night watch']);
  expect(await names({ text: 'handed off' })).toEqual([]);
  expect((await names({ text: 'new' })).length).toBe(2);
});

it('leaves out the archive and what is a part of another one, as undo and redo have it', async () => {
  const whole = lamplighter();
  const isHat = (part: { material: string }) => part.material === 'hat';
  const body = await add(
    'body.glb',
    await writeFigure({ ...whole, parts: whole.parts.filter((part) => !isHat(part)) }),
  );
  const hat = await add('hat.glb', await writeFigure({ ...whole, parts: whole.parts.filter(isHat), clips: [] }));
  const away = await add('away.glb');
  await archiveCharacters([away], true);
  expect(await joinCharacters(body, [hat], { baseRevision: 0, author: 'Maren' })).toMatchObject({ ok: true });
  expect(await names({ isArchived: false })).toEqual(['Body']);
  expect(await names({ isArchived: true })).toEqual(['Away']);
  expect((await readRoster()).archived).toBe(1);
  await undoFit(body, { baseRevision: 1, author: 'Maren' });
  expect((await names({ isArchived: false })).sort()).toEqual(['Body', 'Hat']);
  await redoFit(body, { baseRevision: 2, author: 'Maren' });
  expect(await names({ isArchived: false })).toEqual(['Body']);
});

it('takes the same number of queries however many characters there are', async () => {
  const once = async () => {
    let queries = 0;
    const { options } = database() as unknown as { options: { logging: unknown } };
    options.logging = () => {
      queries++;
    };
    await readRoster();
    options.logging = false;
    return queries;
  };
  // What else is under way at the moment can only add to it.
  const count = async () => Math.min(await once(), await once(), await once(), await once());
  await add('one.glb');
  const few = await count();
  for (const name of ['two', 'three', 'four', 'five', 'six']) await add(`${name}.glb`);
  expect(await count()).toBe(few);
  expect(few).toBe(3);
});

it('is asked for over HTTP, within bounds', async () => {
  await add('one.glb');
  expect((await get('')).body).toMatchObject({ total: 1, archived: 0, page: 1, size: 100 });
  expect((await get('?text=one&size=1&archived=false')).body.characters).toHaveLength(1);
  for (const query of ['?page=0', '?size=501', '?size=x', '?archived=maybe', `?text=${'x'.repeat(201)}`])
    expect((await get(query)).status).toBe(400);
});
