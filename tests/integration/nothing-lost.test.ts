import { listSourceFiles } from '@/server/characters/source-files';
import { setTimeout as wait } from 'node:timers/promises';
import { describe, expect, it, vi } from 'vitest';
import { GET as listCharacters } from '@/app/api/characters/route';
import { sendFiles, untilOver } from './over-http';
import { DELETE as deleteJob } from '@/app/api/jobs/[jobId]/route';
import { POST as postChange } from '@/app/api/characters/[characterId]/fit/changes/route';
import { POST as postUndo } from '@/app/api/characters/[characterId]/fit/undo/route';
import { GET as getPack } from '@/app/api/characters/[characterId]/handoffs/[version]/pack/route';
import type { IntakeOutcome, RosterRow } from '@/contract/character-view';
import type { Problem } from '@/core/errors/yarvo-error';
import { putBlob } from '@/server/blobs/blob-store';
import { findCharacter } from '@/server/characters/character-repository';
import { archiveCharacters, countRemains, deleteCharacter } from '@/server/intake/delete-character';
import { hasCanonical } from '@/server/readings/readings';
import { joinCharacters } from '@/server/intake/join-characters';
import { readCharacter } from '@/server/views/read-characters';
import { addFiles, addFile } from '@/server/intake/add-files';
import { database } from '@/server/database/connection';
import { models } from '@/server/database/models';
import { changeFit, changeIntake, readFitView, undoFit, type ChangeResult } from '@/server/fits/change-fit';
import { findCurrentFit } from '@/server/fits/fit-repository';
import { handOff } from '@/server/packs/hand-off';
import { deleteLeftPack, listLeftPacks } from '@/server/packs/handoff-repository';
import { runUpkeep } from '@/server/upkeep/upkeep';
import { eelSeller } from '../../demo/cast/eel-seller';
import { lamplighter } from '../../demo/cast/lamplighter';
import { writeFigure } from '../../demo/figure/write-figure';
import { proofSize } from '../helpers/proof-size';
import { countRows, withFreshDatabase } from './fresh-database';

withFreshDatabase();

const eel = await writeFigure(eelSeller());
const lamp = await writeFigure(lamplighter());
const take = async (fileName: string, bytes = eel) => (await addFile({ bytes, fileName, author: 'Maren' })).id;
const fitOf = async (id: string) =>
  readFitView(
    (await findCharacter(id)) ??
      (() => {
        throw new Error('lost');
      })(),
  );
const context = (characterId: string) => ({ params: Promise.resolve({ characterId }) });
const json = (body: unknown, cookie = '') =>
  new Request('http://yarvo.test/', {
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie },
    body: JSON.stringify(body),
  });
const upload = (name: string, bytes: Uint8Array, query = '') =>
  new Request(`http://yarvo.test/api/characters?name=${encodeURIComponent(name)}${query}`, {
    method: 'POST',
    body: bytes as BodyInit,
  });

/** Waits until a statement that starts so waits for a lock: nothing else keeps one so long. */
async function whenWaiting(statement: string): Promise<void> {
  const query = 'SELECT 1 FROM information_schema.processlist WHERE info LIKE :statement AND time_ms > 100';
  for (let tries = 0; tries < 3_000; tries++) {
    const [rows] = await database().query(query, { replacements: { statement: `${statement}%` } });
    if (rows.length > 0) return;
    await wait(20);
  }
  throw new Error(`no "${statement}" waits`);
}

/** Makes a change as the interface does: behind a newer fit, it looks and makes it again. */
async function makeChange(id: string, role: string, author: string): Promise<ChangeResult> {
  for (let baseRevision = 0; ;) {
    const result = await changeFit(id, { kind: 'leave-vacant', role }, { baseRevision, author });
    if (result.ok || result.code !== 'conflict' || !result.fit) return result;
    baseRevision = result.fit.revision;
  }
}

describe('many at once', () => {
  it('two changes each on many characters whose readings nobody has at hand all succeed', async () => {
    const one = await take('eel.glb');
    // Copies of the row and what hangs on it: adding so many files would take minutes.
    const ids = [one];
    for (let copy = 1; copy < proofSize(30, 100); copy++) ids.push(await copyCharacter(one, `Eel ${copy} of many`));
    const results = await Promise.all(
      ids.flatMap((id) => ['jaw', 'leftEye'].map((role) => makeChange(id, role, role))),
    );
    expect(results.filter((result) => !result.ok)).toEqual([]);
    for (const id of ids) expect((await findCurrentFit(id))?.revision).toBe(2);
  });

  it('equal bytes sent four times at once become four characters with four names, their content kept once', async () => {
    const answers = await Promise.all([1, 2, 3, 4].map(() => sendFiles(upload('eel.glb', eel))));
    expect(answers.map(({ status }) => status)).toEqual([201, 201, 201, 201]);
    const outcomes = (await Promise.all(answers.map((answer) => answer.json()))) as IntakeOutcome[];
    expect(outcomes.map(({ characters }) => characters[0].name).sort()).toEqual(['Eel', 'Eel 2', 'Eel 3', 'Eel 4']);
    expect(await countRows()).toMatchObject({ characters: 4, blobs: 3 });
  });

  it('a change that waits behind a handoff finds the character handed off, and reopens it', async () => {
    const id = await take('eel.glb');
    await changeFit(id, { kind: 'align-posture' }, { baseRevision: 0, author: 'Maren' });
    // What a handoff does while it holds the fit, with the change already waiting.
    const transaction = await database().transaction();
    await models().Fit.findOne({ where: { characterId: id }, transaction, lock: true });
    const change = changeFit(id, { kind: 'clear', role: 'jaw' }, { baseRevision: 1, author: 'Odo' });
    await whenWaiting('SELECT');
    await models().Character.update({ state: 'handed off' }, { where: { id }, transaction });
    await transaction.commit();
    expect(await change).toMatchObject({ ok: true });
    expect((await findCharacter(id))?.state).toBe('reopened');
  });

  it('a handoff whose fit is changed while its pack is built keeps nothing, and says so', async () => {
    const id = await take('eel.glb');
    await changeFit(id, { kind: 'align-posture' }, { baseRevision: 0, author: 'Maren' });
    const transaction = await database().transaction();
    await models().Fit.findOne({ where: { characterId: id }, transaction, lock: true });
    const handoff = handOff(id, 'Odo');
    const refusal = expect(handoff).rejects.toMatchObject({ problem: { code: 'changed-meanwhile', place: 'Eel' } });
    await whenWaiting('SELECT');
    await models().Fit.increment('revision', { where: { characterId: id }, transaction });
    await transaction.commit();
    await refusal;
    expect((await countRows()).handoffs).toBe(0);
  });

  it('of two handoffs at once one is kept, and the other is told so', async () => {
    const id = await take('eel.glb');
    await changeFit(id, { kind: 'align-posture' }, { baseRevision: 0, author: 'Maren' });
    const results = await Promise.allSettled([handOff(id, 'Maren'), handOff(id, 'Odo')]);
    expect(results.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
    const refused = results.find((result) => result.status === 'rejected')?.reason as { problem: Problem };
    expect(refused.problem).toMatchObject({
      code: 'handed-off-meanwhile',
      message: expect.stringMatching(/^(Maren|Odo) handed off version 1/) as string,
    });
    expect((await countRows()).handoffs).toBe(1);
  });
});

/** A copy of a character and its fit, with a reading that no cache holds. */
async function copyCharacter(of: string, name: string): Promise<string> {
  const id = crypto.randomUUID();
  const fit = await findCurrentFit(of);
  const copies: [table: string, columns: string][] = [
    [
      'characters',
      'file_name, blob_hash, state, portrait, created_by, created_at, main_path, bones, kind, is_humanoid',
    ],
    ['source_files', 'path, blob_hash, purpose, created_by, created_at'],
    [
      'readings',
      'decisions_key, reader_version, content_key, glb_hash, geometry_hash, tracks_hash, rig, sheet, origins, created_at',
    ],
    [
      'matches',
      'decisions_key, reader_version, definition_id, definition_version, dialect, matcher_version, first_pass, portrait, created_at',
    ],
  ];
  for (const [table, columns] of copies) {
    const [key, values] = table === 'characters' ? ['id', ':id, :name'] : ['character_id', ':id'];
    const into = table === 'characters' ? `id, name, ${columns}` : `character_id, ${columns}`;
    await database().query(
      `INSERT INTO ${table} (${into}) SELECT ${values}, ${columns} FROM ${table} WHERE ${key} = :of`,
      { replacements: { id, name, of } },
    );
  }
  const fitId = crypto.randomUUID();
  await database().query(
    'INSERT INTO fits (id, character_id, definition_id, revision, doubts, blockers, updated_at) SELECT :fitId, :id, definition_id, revision, doubts, blockers, updated_at FROM fits WHERE id = :of',
    { replacements: { fitId, id, of: fit?.id } },
  );
  await database().query(
    'INSERT INTO fit_changes (fit_id, revision, kind, description, action, state, author, created_at) SELECT :fitId, revision, kind, description, action, state, author, created_at FROM fit_changes WHERE fit_id = :of',
    { replacements: { fitId, of: fit?.id } },
  );
  return id;
}

describe('all or nothing', () => {
  it('a refused intake change keeps no reading', async () => {
    const id = await take('lamp.glb', lamp);
    await makeChange(id, 'jaw', 'Odo');
    const readings = () => models().Reading.count();
    const before = await readings();
    expect(await changeIntake(id, { unitMetres: 0.5 }, { baseRevision: 0, author: 'Maren' })).toMatchObject({
      ok: false,
      code: 'conflict',
    });
    expect(await readings()).toBe(before);
    expect(await changeIntake(id, { leftOut: [19_999] }, { baseRevision: 1, author: 'Maren' })).toMatchObject({
      ok: false,
      code: 'not-possible',
    });
    expect(await readings()).toBe(before);
    expect(await changeIntake(id, { unitMetres: 0.5 }, { baseRevision: 1, author: 'Maren' })).toMatchObject({
      ok: true,
    });
    expect(await readings()).toBe(before + 1);
  });

  it('joining writes its files, its decision and its mark together, or nothing', async () => {
    const whole = lamplighter();
    const isHat = (part: { material: string }) => part.material === 'hat';
    const body = await take(
      'body.glb',
      await writeFigure({ ...whole, parts: whole.parts.filter((part) => !isHat(part)) }),
    );
    const hat = await take('hat.glb', await writeFigure({ ...whole, parts: whole.parts.filter(isHat), clips: [] }));
    const races = await Promise.all([
      joinCharacters(body, [hat], { baseRevision: 0, author: 'Maren' }),
      makeChange(body, 'jaw', 'Odo'),
    ]);
    const isJoined = races[0].ok;
    const files = (await listSourceFiles(body)).length;
    expect({ files, joinedInto: (await findCharacter(hat))?.joinedInto }).toEqual({
      files: isJoined ? 2 : 1,
      joinedInto: isJoined ? body : null,
    });
  });

  it('a change sent again after its answer got lost is made once', async () => {
    const id = await take('eel.glb');
    const body = { baseRevision: 0, changeId: crypto.randomUUID(), action: { kind: 'clear', role: 'jaw' } };
    const answers = [await postChange(json(body), context(id)), await postChange(json(body), context(id))];
    expect(answers.map(({ status }) => status)).toEqual([200, 200]);
    expect((await fitOf(id)).revision).toBe(1);
    // Another change on that revision is behind, as ever.
    expect((await postChange(json({ ...body, changeId: crypto.randomUUID() }), context(id))).status).toBe(409);
  });

  it('two parts of one name in a form each keep their own bytes', async () => {
    const { characters } = await addFiles({
      files: [
        { path: 'crew.glb', bytes: eel },
        { path: 'crew.glb', bytes: lamp },
        { path: 'crew.glb', bytes: lamp },
      ],
      author: 'Maren',
    });
    expect(characters.map(({ name }) => name).sort()).toEqual(['Crew', 'Crew (2)']);
    const bones = await Promise.all(characters.map(async ({ id }) => (await findCharacter(id))?.bones));
    expect(new Set(bones).size).toBe(2);
    const textures = [
      { path: 'skin.png', bytes: Uint8Array.of(1) },
      { path: 'skin.png', bytes: Uint8Array.of(2) },
    ];
    await expect(
      addFiles({ files: [{ path: 'crew.glb', bytes: eel }, ...textures], author: 'Maren' }),
    ).rejects.toMatchObject({ problem: { code: 'same-path' } });
  });

  it.each([
    ['name', `${'n'.repeat(252)}.glb`],
    ['path', `${'d/'.repeat(160)}n.glb`],
  ])('a %s that is too long is refused in words', async (_what, name) => {
    const answer = await sendFiles(upload(name, eel));
    expect(answer.status).toBe(422);
    expect(((await answer.json()) as { error: Problem }).error).toMatchObject({
      code: 'name-too-long',
      message: expect.stringMatching(/has \d+ characters; \d+ is the limit/) as string,
    });
    expect((await countRows()).characters).toBe(0);
  });
});

describe('cancelling an upload', () => {
  const uploadId = '5f0c8f7e-3c67-4a3b-9c1e-52f0c0a5a001';
  /** What a cancel finds kept all the same, as the interface asks for it. */
  const cancel = async (jobId = uploadId): Promise<{ kept: unknown[] }> => {
    const at = { params: Promise.resolve({ jobId }) };
    const answer = await deleteJob(new Request('http://yarvo.test/', { method: 'DELETE' }), at);
    const { job } = (await answer.json()) as { job: { id: string } | null };
    const over = job && (await untilOver(job.id));
    return { kept: over?.state === 'done' ? [...(over.result as IntakeOutcome).characters] : [] };
  };

  it('while it is read keeps nothing, and both sides say so', async () => {
    // Another writer of the same content makes it wait in the middle of being kept.
    const transaction = await database().transaction();
    await putBlob(eel, transaction);
    const sent = sendFiles(upload('eel.glb', eel, `&upload=${uploadId}`));
    await whenWaiting('INSERT IGNORE INTO `blobs`');
    const cancelled = cancel();
    await transaction.rollback();
    expect(await cancelled).toEqual({ kept: [] });
    const answer = await sent;
    expect(answer.status).toBe(409);
    expect(((await answer.json()) as { error: Problem }).error.code).toBe('cancelled');
    expect(await countRows()).toEqual({ characters: 0, fits: 0, changes: 0, blobs: 0, chunks: 0, handoffs: 0 });
  });

  it('in the middle of several models takes those back that were done', async () => {
    const abort = new AbortController();
    const files = [
      { path: 'a.glb', bytes: eel },
      { path: 'b.glb', bytes: lamp },
    ];
    const work = addFiles({ files, author: 'Maren', signal: abort.signal });
    while ((await countRows()).characters === 0) await wait(5);
    abort.abort();
    await expect(work).rejects.toMatchObject({ problem: { code: 'cancelled' } });
    expect(await countRows()).toMatchObject({ characters: 0, blobs: 0 });
  });

  it('after it was done says what is kept', async () => {
    const id = crypto.randomUUID();
    await sendFiles(upload('eel.glb', eel, `&upload=${id}`));
    expect(await cancel(id)).toMatchObject({ kept: [{ name: 'Eel' }] });
    expect((await countRows()).characters).toBe(1);
  });
});

describe('an upload whose sender got no answer', () => {
  it('is offered as already there when it is sent again', async () => {
    const sent = (await (await sendFiles(upload('eel.glb', eel))).json()) as IntakeOutcome;
    const first = sent.characters[0].id;
    // Yarvo was killed between keeping it and answering.
    await models().Job.update({ answeredAt: null }, { where: {} });
    const again = (await (await sendFiles(upload('eel.glb', eel))).json()) as IntakeOutcome;
    expect(again.characters).toEqual([{ id: first, name: 'Eel', fileName: 'eel.glb', isAlreadyThere: true }]);
    expect((await countRows()).characters).toBe(1);
    // From then on it was answered: the same file again is a new character, and says what it equals.
    const third = (await (await sendFiles(upload('eel.glb', eel))).json()) as IntakeOutcome;
    expect(third.characters[0]).toMatchObject({ name: 'Eel 2', sameAs: { id: first, name: 'Eel' } });
  });
});

describe('archiving and deleting', () => {
  const roster = async () => ((await (await listCharacters()).json()) as { characters: RosterRow[] }).characters;

  it('an archived character takes no change until it is restored, and is as it was', async () => {
    const id = await take('eel.glb');
    const before = await readCharacter(id);
    expect(await archiveCharacters([id, id, crypto.randomUUID()], true)).toBe(1);
    expect((await roster())[0].isArchived).toBe(true);
    expect(await makeChange(id, 'jaw', 'Odo')).toMatchObject({
      ok: false,
      message: 'Eel is archived; restore it to change it.',
    });
    await expect(handOff(id, 'Odo')).rejects.toMatchObject({ problem: { code: 'archived' } });
    await archiveCharacters([id], false);
    expect(await readCharacter(id)).toEqual(before);
  });

  it('deleting counts and removes everything but the packs, which stay to be fetched until they are deleted on purpose', async () => {
    const id = await take('eel.glb');
    const other = await take('other.glb');
    await changeFit(id, { kind: 'align-posture' }, { baseRevision: 0, author: 'Maren' });
    await changeIntake(id, { unitMetres: 1 }, { baseRevision: 1, author: 'Maren' });
    await handOff(id, 'Odo');
    const counted = await countRemains(id);
    expect(counted).toEqual({ files: 1, fileBytes: eel.length, readings: 2, fits: 1, changes: 3, packs: 1, parts: 0 });
    expect(await deleteCharacter(id, { withPacks: false })).toEqual({ ...counted, packs: 0 });
    expect(await countRows()).toMatchObject({ characters: 1, fits: 1, changes: 1, handoffs: 1 });
    expect(await readCharacter(id)).toBeNull();
    expect((await readCharacter(other))?.name).toBe('Other');
    const pack = () =>
      getPack(new Request('http://yarvo.test/'), { params: Promise.resolve({ characterId: id, version: '1' }) });
    expect((await pack()).status).toBe(200);
    expect(await listLeftPacks()).toMatchObject([{ characterId: id, characterName: 'Eel', version: 1 }]);
    expect(await deleteLeftPack(id, 1)).toBe(true);
    expect((await pack()).status).toBe(404);
    expect(await deleteCharacter(other, { withPacks: true })).toMatchObject({ files: 1 });
    expect(await countRows()).toEqual({ characters: 0, fits: 0, changes: 0, blobs: 0, chunks: 0, handoffs: 0 });
    expect(await deleteCharacter(other, { withPacks: true })).toBeNull();
  });

  it('a pack of a character that is there cannot be taken back', async () => {
    const id = await take('eel.glb');
    await changeFit(id, { kind: 'align-posture' }, { baseRevision: 0, author: 'Maren' });
    await handOff(id, 'Odo');
    expect(await deleteLeftPack(id, 1)).toBe(false);
    expect((await countRows()).handoffs).toBe(1);
  });
});

describe('upkeep', () => {
  it('collects readings that nothing leads to, and makes them again when they are wanted', async () => {
    const id = await take('lamp.glb', lamp);
    for (const [baseRevision, unitMetres] of [0.5, 0.4, 0.3].entries())
      await changeIntake(id, { unitMetres }, { baseRevision, author: 'Maren' });
    expect(await models().Reading.count()).toBe(4);
    expect((await runUpkeep()).readings).toBe(0);
    const later = new Date(Date.now() + 2 * 60 * 60_000);
    // The fit's own and the one that undo leads to stay.
    expect((await runUpkeep(later)).readings).toBe(2);
    const before = await readCharacter(id);
    for (const baseRevision of [3, 4, 5]) {
      expect(await undoFit(id, { baseRevision, author: 'Maren' })).toMatchObject({ ok: true });
      // What the stage draws is there again as well.
      expect(await hasCanonical(id, (await readCharacter(id))?.modelHash ?? '')).toBe(true);
    }
    expect((await readCharacter(id))?.normalisation.scale).not.toBe(before?.normalisation.scale);
  });

  it('derives counts again that an older version made, and takes "ready" back from what is not', async () => {
    const id = await take('eel.glb');
    const { Fit, Character } = models();
    await Fit.update({ blockers: 0, doubts: 7, countedBy: '0 quay@0 tidewater@0' }, { where: { characterId: id } });
    await Character.update({ state: 'ready' }, { where: { id } });
    expect((await runUpkeep()).recounted).toBe(1);
    expect(await Fit.findOne({ where: { characterId: id } })).toMatchObject({ blockers: 1, doubts: 0 });
    expect((await findCharacter(id))?.state).toBe('in work');
    expect((await runUpkeep()).recounted).toBe(0);
  });
});

describe('undo among several people', () => {
  const undo = (id: string, baseRevision: number, who: string, whose?: string) =>
    postUndo(json({ baseRevision, ...(whose && { whose }) }, `yarvo-who=${who}`), context(id));

  it("takes back one's own last step from under another person's", async () => {
    const id = await take('eel.glb');
    await changeFit(id, { kind: 'clear', role: 'jaw' }, { baseRevision: 0, author: 'Maren' });
    await changeFit(id, { kind: 'clear', role: 'neck' }, { baseRevision: 1, author: 'Odo' });
    const answer = await undo(id, 2, 'Maren');
    expect(answer.status).toBe(200);
    const fit = await fitOf(id);
    expect(fit.state.assignments).toHaveProperty('jaw');
    expect(fit.state.assignments).not.toHaveProperty('neck');
    expect(fit.history[0]).toMatchObject({
      revision: 3,
      author: 'Maren',
      description: 'took back "Jaw cleared" from under Odo\'s steps',
    });
    // It is a step like any other.
    expect((await undo(id, 3, 'Maren')).status).toBe(200);
    expect((await fitOf(id)).state.assignments).not.toHaveProperty('jaw');
  });

  it("says whose the last step is where none is one's own, and takes it back only when asked to", async () => {
    const id = await take('eel.glb');
    await changeFit(id, { kind: 'clear', role: 'jaw' }, { baseRevision: 0, author: 'Odo' });
    const answer = await undo(id, 1, 'Maren');
    expect(answer.status).toBe(409);
    expect(((await answer.json()) as { error: Problem }).error).toMatchObject({
      code: 'not-yours',
      message: 'The last step is Odo\'s: "Jaw cleared". None of the steps in force is yours.',
    });
    expect((await fitOf(id)).revision).toBe(1);
    expect((await undo(id, 1, 'Maren', 'anyone')).status).toBe(200);
    expect((await fitOf(id)).state.assignments).toHaveProperty('jaw');
  });

  it('names the step that builds on it, and changes nothing', async () => {
    const id = await take('eel.glb');
    await changeFit(id, { kind: 'clear', role: 'jaw' }, { baseRevision: 0, author: 'Maren' });
    await changeFit(id, { kind: 'leave-vacant', role: 'jaw' }, { baseRevision: 1, author: 'Odo' });
    await changeIntake(id, { unitMetres: 0.5 }, { baseRevision: 2, author: 'Odo' });
    const answer = await undo(id, 3, 'Maren');
    expect(answer.status).toBe(422);
    expect(((await answer.json()) as { error: Problem }).error.message).toMatch(
      /cannot be taken back by itself: Odo's/,
    );
    expect((await fitOf(id)).revision).toBe(3);
  });
});

describe('errors', () => {
  it('name the request, and never show what went wrong inside', async () => {
    const broken = vi.spyOn(database(), 'query').mockRejectedValueOnce(new Error('SELECT secret FROM /var/lib'));
    try {
      const answer = await listCharacters(
        new Request('http://yarvo.test/', { headers: { 'x-request-id': 'ab12cd34' } }),
      );
      expect(answer.status).toBe(500);
      const { error } = (await answer.json()) as { error: Problem };
      expect(error).toMatchObject({ code: 'unexpected', requestId: 'ab12cd34' });
      expect(JSON.stringify(error)).not.toMatch(/secret|var|SELECT/);
    } finally {
      broken.mockRestore();
    }
  });

  it('of a body are at most twenty, and a long list costs one', async () => {
    const id = await take('eel.glb');
    const say = async (body: unknown) =>
      ((await (await postChange(json(body), context(id))).json()) as { error: Problem }).error;
    const tooMany = await say({
      baseRevision: 0,
      action: { kind: 'set-spare-kind', bones: Array<string>(90_000).fill('x'), spareKind: null },
    });
    expect(tooMany.message.length).toBeLessThan(300);
    const bad = await say({
      baseRevision: 0,
      action: { kind: 'set-spare-kind', bones: Array<string>(500).fill('x'), spareKind: null },
    });
    expect(bad.message).toMatch(/And 480 more\.$/);
    expect(bad.place.split(', ')).toHaveLength(20);
  });

  it('a JSON body over the limit is 413, and an unknown role is unknown whatever it is called', async () => {
    const id = await take('eel.glb');
    const big = await postChange(
      json({ baseRevision: 0, action: { kind: 'clear', role: 'j'.repeat(1_100_000) } }),
      context(id),
    );
    expect(big.status).toBe(413);
    for (const role of ['__proto__', 'constructor', 'toString', 'nose']) {
      for (const action of [
        { kind: 'clear', role },
        { kind: 'leave-vacant', role },
        { kind: 'settle', roles: ['jaw', role] },
        { kind: 'swap', roles: ['jaw', role] },
        { kind: 'align-posture', roles: [role] },
      ]) {
        const answer = await postChange(json({ baseRevision: 0, action }), context(id));
        expect([action.kind, role, answer.status]).toEqual([action.kind, role, 422]);
      }
    }
    expect((await fitOf(id)).revision).toBe(0);
  });
});
