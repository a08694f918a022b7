import { randomUUID } from 'node:crypto';
import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { sendFiles } from './over-http';
import { POST as postIntake } from '@/app/api/characters/[characterId]/intake/route';
import { GET as getModel } from '@/app/api/characters/[characterId]/model/[hash]/route';
import { POST as postParts } from '@/app/api/characters/[characterId]/parts/route';
import { POST as postTextures } from '@/app/api/characters/[characterId]/textures/route';
import { POST as postJoins } from '@/app/api/joins/route';
import { POST as postProvenance } from '@/app/api/provenance/route';
import { POST as postSizes } from '@/app/api/sizes/route';
import type { CharacterView } from '@/contract/character-view';
import { runFirstPass } from '@/pipeline/match';
import { QUAY } from '@/core/definition/quay';
import { readGlb } from '@/pipeline/read-files';
import * as firstTables from '@/server/database/migrations/0001-first-tables';
import * as readings from '@/server/database/migrations/0006-readings-and-matches';
import { seedLibrary } from '@/server/library/studio';
import * as portraits from '@/server/database/migrations/0008-portraits-by-hash';
import * as bends from '@/server/database/migrations/0009-bends-and-tolerances';
import * as motions from '@/server/database/migrations/0010-motions';
import * as kindsOfMotion from '@/server/database/migrations/0011-kinds-of-motion';
import * as board from '@/server/database/migrations/0012-board';
import * as madeOnce from '@/server/database/migrations/0013-made-once';
import * as jobs from '@/server/database/migrations/0007-jobs-and-uploads';
import * as interpretations from '@/server/database/migrations/0002-interpretations';
import * as nothingLost from '@/server/database/migrations/0003-nothing-lost';
import * as ownNames from '@/server/database/migrations/0004-own-names';
import * as roster from '@/server/database/migrations/0005-roster';
import { putBlob } from '@/server/blobs/blob-store';
import { database } from '@/server/database/connection';
import { initialFit } from '@/core/fit/fit';
import { NO_DECISIONS } from '@/core/intake/decisions';
import { RigSchema } from '@/core/rig/rig';
import { readCharacter } from '@/server/views/read-characters';
import { readRoster } from '@/server/characters/roster';
import { addFile } from '@/server/intake/add-files';
import { models } from '@/server/database/models';
import { changeFit, redoFit, undoFit } from '@/server/fits/change-fit';
import { handOff } from '@/server/packs/hand-off';
import { CAST } from '../../demo/cast/cast';
import { lamplighter } from '../../demo/cast/lamplighter';
import { writePng } from '../../demo/figure/png';
import { writeFigure } from '../../demo/figure/write-figure';
import { withFreshDatabase } from './fresh-database';

withFreshDatabase();

const take = async (name: string) =>
  (await addFile({ bytes: await CAST[name].make(), fileName: name, author: 'Maren' })).id;
const view = async (id: string): Promise<CharacterView> => (await readCharacter(id)) as CharacterView;
const at = (characterId: string) => ({ params: Promise.resolve({ characterId }) });
const json = (body: unknown) =>
  new Request('http://yarvo.test/', {
    method: 'POST',
    body: JSON.stringify(body),
    headers: { cookie: 'yarvo-who=Odo' },
  });
const decide = (id: string, baseRevision: number, change: object) => postIntake(json({ baseRevision, change }), at(id));
const form = (files: Record<string, Uint8Array>) => {
  const body = new FormData();
  for (const [path, bytes] of Object.entries(files)) body.append('file', new File([bytes as BlobPart], path), path);
  return new Request('http://yarvo.test/api/characters', { method: 'POST', body });
};

describe('intake decisions', () => {
  it('change the rig, are kept with the fit, undone, redone, and survive closed connections', async () => {
    const id = await take('ferry-pilot.fbx');
    const before = await view(id);
    expect(before.rig.bones).toHaveLength(66);
    expect(before.fit.state.intake.provenance).toMatchObject({
      source: 'Low Tide Lanterns',
      author: 'a freelancer of the lower quay',
    });
    const folds = before.sheet.copies.map(({ from, into }) => ({ from, into }));
    expect((await decide(id, 0, { folds })).status).toBe(200);
    const folded = await view(id);
    expect(folded.rig.bones).toHaveLength(53);
    expect(folded.fit.readingKey).not.toBe(before.fit.readingKey);
    expect(folded.fit.history[0]).toMatchObject({ description: '13 copied bones folded', author: 'Odo' });
    expect(Object.keys(folded.fit.state.assignments).sort()).toEqual(Object.keys(before.fit.state.assignments).sort());
    await undoFit(id, { baseRevision: 1, author: 'Odo' });
    const undone = await view(id);
    expect(undone.rig).toEqual(before.rig);
    expect(undone.fit.state).toEqual(before.fit.state);
    await redoFit(id, { baseRevision: 2, author: 'Odo' });
    expect((await view(id)).rig).toEqual(folded.rig);
  });

  it('unit, up and facing take effect at once, sides included', async () => {
    const id = await take('lamplighter.glb');
    const before = await view(id);
    await decide(id, 0, { unitMetres: 0.0254, facing: '-Z' });
    const { normalisation, match } = await view(id);
    expect(normalisation).toMatchObject({ scale: 0.0254, facing: '-Z' });
    expect(match.assignments.leftHand.boneIndex).toBe(before.match.assignments.rightHand.boneIndex);
    await decide(id, 1, { unitMetres: null, facing: null });
    expect((await view(id)).normalisation).toEqual(before.normalisation);
  });

  it('that do not fit the file are refused in words and change nothing', async () => {
    const id = await take('lamplighter.glb');
    const response = await decide(id, 0, { pose: { kind: 'frame', clip: 7, frame: 0, isDropped: false } });
    expect(response.status).toBe(422);
    expect(((await response.json()) as { error: { message: string } }).error.message).toMatch(/no frame 0 of clip 7/);
    expect((await decide(id, 0, { unitMetres: -3 })).status).toBe(400);
    expect((await decide(id, 5, { up: '+Z' })).status).toBe(409);
    expect((await view(id)).fit.revision).toBe(0);
  });

  it('are made again when the same file is read again', async () => {
    const id = await take('bell-ringer.dae');
    const { sheet } = await view(id);
    const lantern = sheet.extras.find((extra) => extra.name === 'Laterne')?.nodeIndex as number;
    await decide(id, 0, {
      leftOut: [lantern],
      provenance: { source: 'Copper Wake', author: 'T. Wren', licence: 'studio licence 4', attribution: '' },
    });
    const again = await view(await take('bell-ringer.dae'));
    expect(again.fit.state.intake).toMatchObject({ leftOut: [lantern], provenance: { licence: 'studio licence 4' } });
    expect(again.fit.history[0].description).toBe('first pass, with the intake decisions of Bell ringer');
    expect(again.rig.extras.map((extra) => extra.name)).not.toContain('Laterne');
  });

  it('reach the handoff: a folded coat, one skeleton, and who made it', async () => {
    const id = await take('ferry-pilot.fbx');
    const { sheet } = await view(id);
    await decide(id, 0, { folds: sheet.copies.map(({ from, into }) => ({ from, into })) });
    await changeFit(id, { kind: 'align-posture' }, { baseRevision: 1, author: 'Odo' });
    expect(await handOff(id, 'Odo')).toMatchObject({ version: 1 });
    const manifest = (await view(id)).handoffs[0].manifest as {
      provenance: object;
      source: { file: string };
      readBack: { rolesWritten: number; rolesMatchedByName: number };
    };
    expect(manifest.source.file).toBe('ferry-pilot.fbx');
    expect(manifest.provenance).toMatchObject({ author: 'a freelancer of the lower quay' });
    expect(manifest.readBack.rolesMatchedByName).toBe(manifest.readBack.rolesWritten);
  });

  it('the canonical file is what the stage draws, and only of its own character', async () => {
    const [pilot, clerk] = [await take('ferry-pilot.fbx'), await take('customs-clerk.vrm')];
    const { modelHash } = await view(pilot);
    const get = (characterId: string, hash: string) =>
      getModel(new Request('http://yarvo.test/'), { params: Promise.resolve({ characterId, hash }) });
    const { rig } = await readGlb(new Uint8Array(await (await get(pilot, modelHash)).arrayBuffer()), 'canonical');
    expect(rig.bones).toHaveLength(66);
    expect((await get(clerk, modelHash)).status).toBe(404);
    expect((await get(pilot, 'x')).status).toBe(404);
  });
});

describe('uploads of several files', () => {
  it('a folder with textures is one character; a zip of two is two; one that cannot be read does not hold up the other', async () => {
    const png = writePng(4, 4, () => [1, 2, 3]);
    const folder = await sendFiles(
      form({ 'pilot/ferry-pilot.fbx': await CAST['ferry-pilot.fbx'].make(), 'pilot/textures/oilcloth.png': png }),
    );
    expect(folder.status).toBe(201);
    const { characters } = (await folder.json()) as { characters: { id: string; name: string }[] };
    expect(characters.map((character) => character.name)).toEqual(['Ferry pilot']);
    expect((await view(characters[0].id)).rig.source.textures).toMatchObject([{ status: 'resolved', width: 4 }]);

    const zip = zipSync({
      'a/walk.bvh': await CAST['quay-walk.bvh'].make(),
      'b/clerk.vrm': await CAST['customs-clerk.vrm'].make(),
      'c/broken.glb': new Uint8Array(30),
    });
    const packed = (await (await sendFiles(form({ 'pack.zip': zip, 'readme.png': png }))).json()) as {
      characters: { id: string; name: string }[];
      refused: { path: string; problem: { code: string } }[];
    };
    expect(packed.characters.map((character) => character.name).sort()).toEqual(['Clerk', 'Walk']);
    expect(packed.refused).toMatchObject([{ path: 'c/broken.glb', problem: { code: 'not-a-model' } }]);
    expect((await view(packed.characters[1].id)).files.map((file) => file.path)).toEqual(['pack.zip', 'readme.png']);
  });

  it('a missing texture is supplied by name, and undone', async () => {
    const id = await take('ferry-pilot.fbx');
    const png = writePng(6, 2, () => [9, 9, 9]);
    const wrong = await postTextures(form({ 'felt.png': png }), at(id));
    expect(wrong.status).toBe(422);
    expect(((await wrong.json()) as { error: { message: string } }).error.message).toMatch(
      /missing texture: oilcloth\.png/,
    );
    expect((await postTextures(form({ 'OILCLOTH.png': png }), at(id))).status).toBe(200);
    expect((await view(id)).rig.source.textures).toMatchObject([{ status: 'supplied', width: 6 }]);
    await undoFit(id, { baseRevision: 1, author: 'Odo' });
    expect((await view(id)).rig.source.textures).toMatchObject([{ status: 'missing' }]);
  });
});

describe('several files as one character', () => {
  it('are proposed when names and places agree, joined when a person says so, and come apart on undo', async () => {
    const whole = lamplighter();
    const isHat = (part: { material: string }) => part.material === 'hat';
    const body = (
      await addFile({
        bytes: await writeFigure({ ...whole, parts: whole.parts.filter((part) => !isHat(part)) }),
        fileName: 'lamp-body.glb',
        author: 'Maren',
      })
    ).id;
    const hatFiles = {
      'lamp-hat.glb': await writeFigure({ ...whole, parts: whole.parts.filter(isHat), clips: [] }),
      'felt.png': writePng(2, 2, () => [1, 1, 1]),
    };
    const hat = ((await (await sendFiles(form(hatFiles))).json()) as { characters: { id: string }[] }).characters[0].id;
    const other = await take('net-mender.glb');
    const proposed = (await (await postJoins(json({ characterIds: [body, hat, other] }))).json()) as {
      proposals: { bodyId: string; parts: { id: string }[] }[];
    };
    expect(proposed.proposals).toHaveLength(1);
    const [{ bodyId, parts }] = proposed.proposals;
    expect([bodyId, ...parts.map((part) => part.id)].sort()).toEqual([body, hat].sort());
    const before = await view(body);
    // Refused on an old revision: nothing of the part stays behind.
    expect((await postParts(json({ baseRevision: 9, characterIds: [hat] }), at(body))).status).toBe(409);
    expect(await view(body)).toEqual(before);
    expect((await postParts(json({ baseRevision: 0, characterIds: [hat] }), at(body))).status).toBe(200);
    const joined = await view(body);
    expect(joined.rig.mesh.vertexCount).toBeGreaterThan(before.rig.mesh.vertexCount);
    expect(joined.rig.bones.map((bone) => bone.name)).toEqual(before.rig.bones.map((bone) => bone.name));
    expect((await readRoster()).rows.map((row) => row.name).sort()).toEqual(['Lamp body', 'Net mender']);
    await undoFit(body, { baseRevision: 1, author: 'Odo' });
    expect((await view(body)).rig).toEqual(before.rig);
    expect((await readRoster()).rows.map((row) => row.name).sort()).toEqual(['Lamp body', 'Lamp hat', 'Net mender']);
    // A refused second join must not take the files that a redo of the first one reads.
    expect((await postParts(json({ baseRevision: 9, characterIds: [hat] }), at(body))).status).toBe(409);
    expect((await view(body)).files).toEqual(joined.files);
    await redoFit(body, { baseRevision: 2, author: 'Odo' });
    expect((await view(body)).rig).toEqual(joined.rig);
  });
});

it('hostile files are refused by name, leave nothing behind, and the next file is read', async () => {
  const text = (content: string) => new TextEncoder().encode(content);
  const hostile: [name: string, bytes: Uint8Array, code: string][] = [
    [
      'laughs.dae',
      text('<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;">]><COLLADA>&b;</COLLADA>'),
      'xml-entities',
    ],
    ['deep.fbx', text(`; FBX\nFBXHeaderExtension: {\n${'A: {\n'.repeat(100_000)}`), 'too-deep'],
    ['deep.bvh', text(`HIERARCHY\nROOT a\n{\n${'JOINT b\n{\n'.repeat(50_000)}`), 'too-deep'],
    [
      'fetch.gltf',
      text(
        JSON.stringify({ asset: { version: '2.0' }, buffers: [{ byteLength: 4, uri: 'http://127.0.0.1:9/x.bin' }] }),
      ),
      'external-uri',
    ],
    ['bomb.zip', zipSync({ 'a.bvh': new Uint8Array(64 * 1024 * 1024) }), 'zip-bomb'],
    ['escape.zip', zipSync({ '../../../a.bvh': text('HIERARCHY') }), 'bad-path'],
    [
      'nested.gltf',
      text(`{"asset":{"version":"2.0"},"extras":${'['.repeat(60_000)}${']'.repeat(60_000)}}`),
      'bad-json',
    ],
  ];
  for (const [name, bytes, code] of hostile) {
    const response = await sendFiles(form({ [name]: bytes }));
    const answer = (await response.json()) as { error?: { code: string; place: string } };
    expect([name, response.status, answer.error?.code]).toEqual([name, 422, code]);
    expect(answer.error?.place).toContain(name.split('.')[0]);
  }
  expect(await models().SourceFile.count()).toBe(0);
  expect(await models().Blob.count()).toBe(0);
  expect(await take('lamplighter.glb')).toBeTruthy();
});

it('provenance is edited in bulk; each character keeps the fields that were not named', async () => {
  const ids = [await take('lamplighter.glb'), await take('customs-clerk.vrm')];
  const response = await postProvenance(json({ characterIds: ids, provenance: { licence: 'studio licence 9' } }));
  expect(await response.json()).toEqual({ changed: 2, refused: [] });
  expect((await view(ids[1])).fit.state.intake.provenance).toMatchObject({
    author: 'Gannet & Twine',
    licence: 'studio licence 9',
  });
  expect((await view(ids[0])).fit).toMatchObject({
    revision: 1,
    history: [{ description: 'source and licence edited' }, {}],
  });
  expect(await models().Reading.count()).toBe(2);
});

it('a height is given in bulk, and each character is scaled to it from its own', async () => {
  const ids = [await take('lamplighter.glb'), await take('customs-clerk.vrm')];
  const size = (change: object) => postSizes(json({ characterIds: ids, size: change }));
  expect(await (await size({ kind: 'height', metres: 1.5 })).json()).toEqual({ changed: 2, refused: [] });
  for (const id of ids) expect((await view(id)).normalisation).toMatchObject({ heightMetres: 1.5, unitFrom: 'hand' });
  expect(await (await size({ kind: 'factor', factor: 2 })).json()).toEqual({ changed: 2, refused: [] });
  for (const id of ids) expect((await view(id)).normalisation.heightMetres).toBeCloseTo(3, 9);
  const { fit } = await view(ids[0]);
  expect(fit.findings.find(({ key }) => key.startsWith('proportions/height'))?.severity).toBe('blocker');
  expect((await size({ kind: 'height', metres: -1 })).status).toBe(400);
  const stranger = await postSizes(json({ characterIds: [crypto.randomUUID()], size: { kind: 'height', metres: 2 } }));
  expect(await stranger.json()).toMatchObject({ changed: 0, refused: [{ message: 'There is no such character.' }] });
});

it('characters from before these decisions are carried over by the migration', async () => {
  const query = database().getQueryInterface();
  const tables = [
    'carried',
    'motion_outs',
    'motion_names',
    'motions',
    'renewals',
    'handoffs',
    'fit_changes',
    'fits',
    'matches',
    'readings',
    'source_files',
    'characters',
    'upload_files',
    'uploads',
    'jobs',
    'blob_chunks',
    'blobs',
    'library',
  ];
  for (const table of tables) await query.dropTable(table);
  await firstTables.up(query);
  // A character as the first version kept it: its rig in its own row, in the shape of that time.
  const bytes = await writeFigure(lamplighter());
  const { rig } = await readGlb(bytes, 'lamplighter.glb');
  const { source: _source, poses: _poses, statedRoles: _stated, ...old } = rig;
  const oldRig = {
    ...old,
    format: 'glb',
    generator: 'Yarvo demo cast',
    clips: rig.clips.map(({ startSeconds: _start, ...clip }) => clip),
  };
  const first = runFirstPass(rig, QUAY);
  const { intake: _intake, ...oldState } = initialFit(first.match, QUAY);
  const [id, fitId, now] = [randomUUID(), randomUUID(), new Date()];
  const blobHash = await database().transaction((transaction) => putBlob(bytes, transaction));
  await query.bulkInsert('characters', [
    {
      id,
      name: 'Lamplighter',
      file_name: 'lamplighter.glb',
      blob_hash: blobHash,
      state: 'new',
      rig: JSON.stringify(oldRig),
      first_pass: JSON.stringify(first),
      portrait: '<svg/>',
      created_by: 'Maren',
      created_at: now,
    },
  ]);
  await query.bulkInsert('fits', [
    { id: fitId, character_id: id, definition_id: 'quay', revision: 0, doubts: 0, blockers: 0, updated_at: now },
  ]);
  await query.bulkInsert('fit_changes', [
    {
      fit_id: fitId,
      revision: 0,
      kind: 'start',
      description: 'first pass',
      action: null,
      state: JSON.stringify(oldState),
      author: 'Maren',
      created_at: now,
    },
  ]);
  await interpretations.up(query);
  await nothingLost.up(query);
  await ownNames.up(query);
  await roster.up(query);
  await readings.up(query);
  await jobs.up(query);
  await portraits.up(query);
  await bends.up(query);
  await motions.up(query);
  await kindsOfMotion.up(query);
  await board.up(query);
  await madeOnce.up(query);
  await seedLibrary();
  const carried = await view(id);
  expect(carried.rig.bones).toEqual(JSON.parse(JSON.stringify(rig.bones)));
  expect(RigSchema.safeParse(carried.rig).success).toBe(true);
  expect(carried.fit.state.intake).toEqual(NO_DECISIONS);
  expect((await readRoster()).rows[0]).toMatchObject({ name: 'Lamplighter', bones: 53, isHumanoid: true });
  // The carried reading serves as a start for decisions like any other.
  expect((await decide(id, 0, { clipsLeftOut: [0] })).status).toBe(200);
  expect((await view(id)).rig.clips).toEqual([]);
});
