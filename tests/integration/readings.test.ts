import { gunzipSync } from 'node:zlib';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, it, describe } from 'vitest';
import { QueryTypes } from 'sequelize';
import { decodeGeometry } from '@/core/geometry/geometry';
import { decodeMotionTracks } from '@/core/clips/motion-tracks';
import { QUAY } from '@/core/definition/quay';
import type { Match } from '@/core/match/context/match-types';
import { changeFit, changeIntake, undoFit } from '@/server/fits/change-fit';
import { MATCHER_VERSION } from '@/pipeline/versions';
import { startFit } from '@/server/fits/start-fit';
import { readCharacter } from '@/server/views/read-characters';
import { readRoster } from '@/server/characters/roster';
import { addFile } from '@/server/intake/add-files';
import { database } from '@/server/database/connection';
import { migrate } from '@/server/database/migrate';
import { models } from '@/server/database/models';
import { keep, newest } from '@/server/library/library';
import { seedLibrary } from '@/server/library/studio';
import { forgetReadings } from '@/server/matches/matched-reading';
import { acceptRenewal, listRenewals } from '@/server/renewals/renewals';
import { runUpkeep } from '@/server/upkeep/upkeep';
import { databaseQueue } from '@/server/jobs/database-queue';
import { untilOver } from './over-http';
import { GET as getGeometry } from '@/app/api/characters/[characterId]/geometry/route';
import { GET as getTracks } from '@/app/api/characters/[characterId]/tracks/route';
import { netMender } from '../../demo/cast/net-mender';
import { writeFigure } from '../../demo/figure/write-figure';
import { withFreshDatabase } from './fresh-database';

withFreshDatabase();

const take = async (fileName = 'net-mender.glb') =>
  (await addFile({ bytes: await writeFigure(netMender()), fileName, author: 'Maren' })).id;
const view = async (id: string, definitionId?: string) => {
  const character = await readCharacter(id, definitionId);
  if (!character) throw new Error(`no ${id}`);
  return character;
};

/** Upkeep, and the work that it queues. @returns what became of each fit. */
async function upkeepDone(): Promise<unknown[]> {
  await runUpkeep();
  const jobs = await databaseQueue.list({ kind: 'rematch' });
  return (await Promise.all(jobs.map(({ id }) => untilOver(id)))).map(({ result }) => result);
}

/** As if the kept match had been made by another matcher, which saw `change` in it. */
async function matchedByAnother(id: string, change: (match: Match) => void): Promise<void> {
  const row = await models().Match.findOne({ where: { characterId: id } });
  const first = JSON.parse(row?.firstPass ?? '') as { match: Match };
  change(first.match);
  await models().Match.update({ matcherVersion: 9, firstPass: JSON.stringify(first) }, { where: { characterId: id } });
  await database().query(
    `UPDATE fit_changes c JOIN fits f ON f.id = c.fit_id
     SET c.state = JSON_SET(c.state, '$.basis.matcher', 9) WHERE f.character_id = :id`,
    { replacements: { id } },
  );
  forgetReadings(id);
}

describe('a reading', () => {
  it('gives geometry and motion as blocks, which say what the rig says', async () => {
    const id = await take();
    const { rig } = await view(id);
    const at = { params: Promise.resolve({ characterId: id }) };
    const answer = await getGeometry(new Request(`http://yarvo/api/characters/${id}/geometry`), at);
    const geometry = decodeGeometry(new Uint8Array(await answer.arrayBuffer()));
    expect(geometry.parts.reduce((sum, part) => sum + part.indices.length / 3, 0)).toBe(rig.mesh.triangleCount);
    expect(geometry.parts.reduce((sum, part) => sum + part.positions.length / 3, 0)).toBe(rig.mesh.vertexCount);
    const again = await getGeometry(
      new Request('http://yarvo/x', { headers: { 'if-none-match': answer.headers.get('etag') ?? '' } }),
      at,
    );
    expect(again.status).toBe(304);
    const tracks = decodeMotionTracks(
      new Uint8Array(await (await getTracks(new Request('http://yarvo/x'), at)).arrayBuffer()),
    );
    expect(tracks.map(({ name }) => name)).toEqual(rig.clips.map(({ name }) => name));
    for (const [index, { tracks: keyed }] of tracks.entries())
      expect(new Set(keyed.map(({ bone }) => bone)).size).toBe(rig.clips[index].boneCount);
  });

  it('kept without blocks gets them when they are wanted', async () => {
    const id = await take();
    const at = { params: Promise.resolve({ characterId: id }) };
    const made = new Uint8Array(await (await getGeometry(new Request('http://yarvo/x'), at)).arrayBuffer());
    await models().Reading.update({ geometryHash: null, tracksHash: null }, { where: { characterId: id } });
    const later = new Uint8Array(await (await getGeometry(new Request('http://yarvo/x'), at)).arrayBuffer());
    expect(later).toEqual(made);
    expect((await models().Reading.findOne({ where: { characterId: id } }))?.geometryHash).toBeTruthy();
  });

  it('of equal files under one name is made once, and stays when the first character goes', async () => {
    const first = await take();
    const second = await take();
    const rows = await models().Reading.findAll({ order: [['createdAt', 'ASC']] });
    expect(rows).toHaveLength(2);
    expect(new Set(rows.map(({ contentKey }) => contentKey)).size).toBe(1);
    const before = await view(second);
    await models().Character.destroy({ where: { id: first } });
    forgetReadings(second);
    expect(await view(second)).toEqual(before);
  });
});

describe('a newer matcher', () => {
  it('that changes nothing is taken over silently, as a step of the history', async () => {
    const id = await take();
    await changeFit(id, { kind: 'settle', roles: ['hips'] }, { baseRevision: 0, author: 'Maren' });
    const before = (await view(id)).fit.state;
    // What was handed off is not reopened by it: nobody changed anything.
    await models().Character.update({ state: 'handed off' }, { where: { id } });
    await matchedByAnother(id, () => {});
    expect(await upkeepDone()).toEqual(['unchanged']);
    expect((await view(id)).state).toBe('handed off');
    const { fit } = await view(id);
    expect(fit.state).toEqual(before);
    expect(fit).toMatchObject({ revision: 2, history: [{ author: 'Yarvo' }, {}, {}] });
    expect(await listRenewals()).toEqual([]);
    expect((await runUpkeep()).renewed).toBe(0);
  });

  it('that changes something waits with what changes, until a person accepts; what is settled stays', async () => {
    const id = await take();
    const { rig } = await view(id);
    const name = (bone: number) => rig.bones[bone].name;
    const right = (await view(id)).match.assignments;
    const [hand, foot, head] = ['leftHand', 'leftFoot', 'head'].map((role) => right[role].boneIndex);
    await matchedByAnother(id, ({ assignments }) => {
      assignments.leftHand = { ...assignments.leftHand, boneIndex: foot };
      assignments.head = { ...assignments.head, state: 'doubtful' };
    });
    // What the older matcher proposed, and one of it settled by a person.
    await database().query(
      `UPDATE fit_changes c JOIN fits f ON f.id = c.fit_id SET c.state = JSON_SET(c.state,
         '$.assignments.leftHand.boneIndex', :foot, '$.assignments.head.state', 'doubtful',
         '$.assignments.leftFoot', JSON_OBJECT('boneIndex', :hand, 'state', 'settled', 'origin', 'person'))
       WHERE f.character_id = :id`,
      { replacements: { id, foot, hand } },
    );
    expect(await upkeepDone()).toEqual(['listed']);
    const [renewal] = await listRenewals();
    expect(renewal).toMatchObject({ characterId: id, definitionId: 'quay' });
    expect(renewal.changes.find(({ role }) => role === 'leftHand')?.label).toBe('Left hand');
    const changes = new Map(renewal.changes.map(({ role, label: _label, ...change }) => [role, change]));
    expect(changes.get('head')).toEqual({ from: name(head), to: name(head), kind: 'doubt' });
    // The bone that is right for the hand is a person's foot now: nobody else gets it.
    expect(changes.get('leftHand')).toEqual({ from: name(foot), to: null, kind: 'proposed' });
    expect(changes.has('leftFoot')).toBe(false);
    expect((await view(id)).fit.state.assignments.head.state).toBe('doubtful');
    expect(await acceptRenewal(id, 'quay', 'Odo')).toBe(true);
    const { fit } = await view(id);
    expect(fit.state.assignments.head.state).toBe('proposed');
    expect(fit.state.assignments.leftFoot).toEqual({ boneIndex: hand, state: 'settled', origin: 'person' });
    expect(fit.history[0]).toMatchObject({ author: 'Odo' });
    expect(await listRenewals()).toEqual([]);
    // The step is undone like any other, back onto the older match.
    const undone = await undoFit(id, { baseRevision: fit.revision, author: 'Odo' });
    expect(undone.ok && undone.fit.state.basis.matcher).toBe(9);
  });
});

it('undo leads back past an older matcher whose match was collected', async () => {
  const id = await take();
  const before = (await view(id)).fit.state.assignments;
  await matchedByAnother(id, () => {});
  // Other decisions are read and matched by what does so today; what stood under the older ones is collected.
  expect((await changeIntake(id, { unitMetres: 2 }, { baseRevision: 0, author: 'Maren' })).ok).toBe(true);
  await models().Match.destroy({ where: { characterId: id, matcherVersion: 9 } });
  forgetReadings(id);
  const undone = await undoFit(id, { baseRevision: 1, author: 'Maren' });
  expect(undone.ok && undone.fit.state).toMatchObject({ assignments: before, basis: { matcher: MATCHER_VERSION } });
});

describe('several definitions', () => {
  it('have a fit of their own each, which change apart', async () => {
    const other = { ...QUAY, id: 'shoal', label: 'Shoal', version: 1 };
    await keep('definition', other, 'Maren');
    const id = await take();
    expect(await startFit(id, 'shoal', 'Maren')).toBe(true);
    await expect(startFit(id, 'shoal', 'Maren')).rejects.toMatchObject({ problem: { code: 'already-there' } });
    await expect(startFit(id, 'reef', 'Maren')).rejects.toMatchObject({ problem: { code: 'not-in-library' } });
    const request = { baseRevision: 0, author: 'Maren', definitionId: 'shoal' };
    await changeFit(id, { kind: 'clear', role: 'head' }, request);
    expect((await view(id, 'shoal')).fit).toMatchObject({ revision: 1 });
    expect((await view(id, 'shoal')).definition.label).toBe('Shoal');
    expect((await view(id)).fit).toMatchObject({ revision: 0 });
    expect('head' in (await view(id)).fit.state.assignments).toBe(true);
    expect((await readRoster()).rows).toHaveLength(1);
  });

  it('keep every version, and never change one that is kept', async () => {
    const changed = { ...QUAY, label: 'Quay, changed' };
    await keep('definition', changed, 'Odo');
    expect((await newest('definition', 'quay')).label).toBe('Quay');
    await keep('definition', { ...changed, id: 'creek', version: 1 }, 'Odo');
    await keep('definition', { ...changed, id: 'creek', version: 2, label: 'Creek' }, 'Odo');
    expect((await newest('definition', 'creek')).label).toBe('Creek');
  });
});

it('a data folder from before readings and matches were told apart is carried over', async () => {
  const tables = await database().query<{ name: string }>(
    'SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE()',
    { type: QueryTypes.SELECT },
  );
  const old = gunzipSync(readFileSync(path.join(import.meta.dirname, 'fixtures/before-readings.sql.gz'))).toString();
  const statements = [
    'SET FOREIGN_KEY_CHECKS = 0',
    ...tables.map(({ name }) => `DROP TABLE IF EXISTS \`${name}\``),
    ...old.split(/;\n/).filter((statement) => statement.trim() !== ''),
    'SET FOREIGN_KEY_CHECKS = 1',
  ];
  await database().transaction(async (transaction) => {
    for (const statement of statements) await database().query(statement, { transaction });
  });
  expect(await migrate()).toEqual([
    '0006-readings-and-matches',
    '0007-jobs-and-uploads',
    '0008-portraits-by-hash',
    '0009-bends-and-tolerances',
    '0010-motions',
    '0011-kinds-of-motion',
    '0012-board',
    '0013-made-once',
  ]);
  await seedLibrary();
  const { rows } = await readRoster();
  expect(rows.map(({ name }) => name).sort()).toEqual(['Lantern', 'Quay walk', 'Second walk']);
  const byName = async (name: string) => view(rows.find((row) => row.name === name)?.id ?? '');
  const walk = await byName('Quay walk');
  expect(walk.fit).toMatchObject({ revision: 4, canUndo: true, canRedo: true });
  expect(walk.handoffs).toHaveLength(1);
  expect(Object.values(walk.fit.state.assignments).filter(({ state }) => state === 'settled').length).toBeGreaterThan(
    9,
  );
  expect((await byName('Second walk')).normalisation.scale).toBe(0.02);
  // What was kept before can be worked on: geometry is made, undo leads back, and upkeep looks again.
  const tracks = await getTracks(new Request('http://yarvo/x'), {
    params: Promise.resolve({ characterId: walk.id }),
  });
  expect(decodeMotionTracks(new Uint8Array(await tracks.arrayBuffer()))[0].tracks.length).toBeGreaterThan(10);
  expect((await undoFit(walk.id, { baseRevision: 4, author: 'Maren' })).ok).toBe(true);
  // What the newer matcher sees otherwise is taken over or listed, once.
  for (const outcome of await upkeepDone()) expect(['unchanged', 'listed']).toContain(outcome);
  expect(await runUpkeep()).toMatchObject({ renewed: 0 });
});
