import { readFileSync } from 'node:fs';
import { describe, expect, it, vi } from 'vitest';
import { GET as getFile } from '@/app/api/motions/[motionId]/file/route';
import { POST as postFiles } from '@/app/api/characters/route';
import { POST as postMotion } from '@/app/api/motions/[motionId]/route';
import { POST as postKept } from '@/app/api/motions/kept/route';
import { GET as getShelf, POST as postShelf } from '@/app/api/motions/route';
import type { ClipMotion, MotionChange, MotionList, MotionView } from '@/contract/motions';
import type { Problem } from '@/core/errors/yarvo-error';
import { QUAY } from '@/core/definition/quay';
import { gaitMotion } from '@/core/house/gait';
import { WALK } from '@/core/house/gait-settings';
import { sampleHouse } from '@/core/house/house-motion';
import { encodeMotion } from '@/core/motion/motion-file';
import { isRest } from '@/core/rig/pose';
import { addFile } from '@/server/intake/add-files';
import { deleteCharacter } from '@/server/intake/delete-character';
import { changeFit, readFitView } from '@/server/fits/change-fit';
import { findCharacter } from '@/server/characters/character-repository';
import { findCurrentFit } from '@/server/fits/fit-repository';
import { matchedReading } from '@/server/matches/matched-reading';
import { models } from '@/server/database/models';
import { databaseQueue } from '@/server/jobs/database-queue';
import { setTimeout as wait } from 'node:timers/promises';
import { YarvoError } from '@/core/errors/yarvo-error';
import * as shelving from '@/server/motions/shelve';
import { withFreshDatabase } from './fresh-database';

withFreshDatabase();

const demo = (name: string) => new Uint8Array(readFileSync(`demo/files/${name}`));
const take = async (name: string, bytes = demo(name)) => (await addFile({ bytes, fileName: name, author: 'Maren' })).id;
const send = (body: unknown) =>
  new Request('http://127.0.0.1/api/motions', {
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie: 'yarvo-who=Odo' },
    body: JSON.stringify(body),
  });

async function shelve(characterId: string, clips?: number[]) {
  const response = await postShelf(send({ characterId, ...(clips && { clips }) }));
  const answer = (await response.json()) as { motions: ClipMotion[]; error: Problem };
  return { status: response.status, ...answer };
}
async function change({ id, revision }: MotionView, wanted: MotionChange) {
  const response = await postMotion(send({ baseRevision: revision, change: wanted }), {
    params: Promise.resolve({ motionId: id }),
  });
  return { status: response.status, ...((await response.json()) as { motion: ClipMotion; error: Problem }) };
}
const shelf = async () =>
  ((await (await getShelf(new Request('http://127.0.0.1/api/motions'))).json()) as MotionList).motions as ClipMotion[];

describe('an upload for the shelf', () => {
  const upload = async (name: string, bytes = demo(name)) => {
    const response = await postFiles(
      new Request(`http://127.0.0.1/api/characters?shelf=true&name=${name}`, {
        method: 'POST',
        headers: { cookie: 'yarvo-who=Odo' },
        body: bytes,
      }),
    );
    const { job } = (await response.json()) as { job: { id: string } };
    for (;;) {
      const found = await databaseQueue.find(job.id);
      if (found && !['queued', 'running'].includes(found.state)) return found;
      await wait(20);
    }
  };

  it('has its clips there when it is done, though nobody waits for it', async () => {
    const { state } = await upload('stall-keeper.fbx');
    expect(state).toBe('done');
    expect((await shelf()).map(({ clipName, createdBy }) => [clipName, createdBy])).toEqual([
      ['beckon', 'Odo'],
      ['weigh', 'Odo'],
    ]);
  });

  it('keeps the file where it cannot be told for the moment whether it is a motion', async () => {
    const away = new YarvoError({ code: 'too-slow', message: 'Not done in time.', place: 'fit', remedy: 'Try again.' });
    const later = vi.spyOn(shelving, 'shelve').mockRejectedValueOnce(away);
    const { state, problem } = await upload('stall-keeper.fbx');
    later.mockRestore();
    expect([state, problem?.code]).toEqual(['failed', 'too-slow']);
    expect(await models().Character.count()).toBe(1);
  });

  it('leaves no character behind where it is no motion, and says why', async () => {
    const { state, problem } = await upload('lantern.glb');
    expect(state).toBe('failed');
    expect(problem?.code).toBe('no-figure');
    expect(await models().Character.count()).toBe(0);
    expect(await shelf()).toEqual([]);
  });
});

describe('the shelf', () => {
  it('takes all takes of a file, aligned and named, and the same clip once', async () => {
    const id = await take('stall-keeper.fbx');
    const { status, motions } = await shelve(id);
    expect(status).toBe(201);
    expect(motions.map(({ name, clipName, doubts, createdBy }) => [name, clipName, doubts, createdBy])).toEqual([
      ['Stall keeper: beckon', 'beckon', 0, 'Odo'],
      ['Stall keeper: weigh', 'weigh', 0, 'Odo'],
    ]);
    const fit = await findCurrentFit(id);
    expect(isRest(fit?.state.posture ?? { rotations: {}, shift: null })).toBe(false);
    await shelve(id, [1]);
    expect(await shelf()).toHaveLength(2);
  });

  it('asks nothing of a second file on a known skeleton: the first one’s fit counts, and its corrections', async () => {
    const first = await take('boat-leap.glb');
    await shelve(first);
    const fit = await findCurrentFit(first);
    await changeFit(first, { kind: 'clear', role: 'leftToes' }, { baseRevision: fit?.revision ?? 0, author: 'Odo' });
    const second = await take('boat-leap-again.glb', demo('boat-leap.glb'));
    const [motion] = (await shelve(second)).motions;
    expect(motion).toMatchObject({ characterId: second, fitCharacterId: first, fitCharacterName: 'Boat leap' });
    const counting = await findCurrentFit(motion.fitCharacterId);
    expect(counting?.state.assignments.leftToes).toBeUndefined();
    // With the first one gone the second one's own fit counts again.
    await deleteCharacter(first, { withPacks: false });
    expect(await shelf()).toMatchObject([{ characterId: second, fitCharacterId: second }]);
  });

  it('refuses what moves no humanoid, in words, and keeps nothing', async () => {
    const mule = await shelve(await take('market-mule.glb'));
    expect(mule.status).toBe(422);
    expect(mule.error).toMatchObject({ code: 'no-figure', place: 'market-mule.glb' });
    const noClip = await shelve(await take('boat-leap.glb'), [4]);
    expect(noClip.error).toMatchObject({ code: 'no-clip', message: 'There is no clip 4; the file has 1.' });
    expect(await shelf()).toEqual([]);
  });

  it('takes a frame as reference: the file is read with it as rest, the clip without it, the posture from it', async () => {
    const id = await take('lantern-round.bvh');
    const [motion] = (await shelve(id)).motions;
    const before = motion.durationSeconds;
    const { status, motion: after } = await change(motion, { reference: { kind: 'frame', frame: 0 } });
    expect(status).toBe(200);
    expect(after).toMatchObject({ reference: 'frame 0, left out', revision: 1 });
    expect(before - after.durationSeconds).toBeCloseTo(1 / 30, 4);
    const character = await findCharacter(id);
    const fit = await findCurrentFit(id);
    if (!character || !fit) throw new Error('lost');
    const { rig } = await matchedReading(character, fit.state);
    // In the T-pose of that frame the hands are as high as the shoulders; at rest they hang.
    const height = (role: string) => rig.bones[fit.state.assignments[role].boneIndex].restWorld[13];
    expect(Math.abs(height('leftHand') - height('leftUpperArm'))).toBeLessThan(0.02);
    const view = await readFitView(character);
    const off = view.deviations
      .filter(({ alignment }) => alignment === 'align')
      .map(({ deviationRad }) => deviationRad);
    expect(Math.max(...off)).toBeLessThan(1e-3);
    const refused = await change(after, { reference: { kind: 'frame', frame: 900 } });
    expect(refused).toMatchObject({ status: 422, error: { code: 'bad-reference' } });
    expect((await shelf())[0].reference).toBe('frame 0, left out');
  });

  it('keeps what is chosen, answers a late change with a conflict, and gives back what was taken off', async () => {
    const [motion] = (await shelve(await take('quay-walk.bvh'))).motions;
    const contacts = [{ part: 'leftFoot' as const, from: 3, to: 20 }];
    const travel = { components: ['horizontal' as const], cutoffHz: 2, others: 'stay' as const };
    const { motion: changed } = await change(motion, { name: 'Walk', framesPerSecond: 60, travel, contacts });
    expect(changed).toMatchObject({ name: 'Walk', framesPerSecond: 60, travel, contacts, revision: 1 });
    const late = await change(motion, { name: 'Stroll' });
    expect(late).toMatchObject({ status: 409, error: { code: 'conflict' } });
    expect((await change(changed, { isRemoved: true })).status).toBe(200);
    expect(await shelf()).toEqual([]);
    expect((await change({ ...changed, revision: 2 }, { isRemoved: false })).status).toBe(200);
    expect(await shelf()).toMatchObject([{ name: 'Walk', contacts }]);
  });

  it('names each field that is wrong', async () => {
    const [motion] = (await shelve(await take('quay-walk.bvh'))).motions;
    const wrong = await change(motion, { framesPerSecond: 0, contacts: [{ part: 'tail' as never, from: -1, to: 2 }] });
    expect(wrong.status).toBe(400);
    expect(wrong.error.place).toContain('change.framesPerSecond');
    expect(
      (await postMotion(send({ baseRevision: 0, change: {} }), { params: Promise.resolve({ motionId: 'x' }) })).status,
    ).toBe(404);
  });
});

describe('motions that are no clip', () => {
  const add = async (body: unknown) => {
    const response = await postShelf(send(body));
    return { status: response.status, ...((await response.json()) as { motions: MotionView[]; error: Problem }) };
  };
  const keep = async (bytes: Uint8Array, name: string) => {
    const request = new Request(`http://127.0.0.1/api/motions/kept?name=${encodeURIComponent(name)}`, {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream', cookie: 'yarvo-who=Odo' },
      body: bytes as BodyInit,
    });
    const response = await postKept(request);
    return { status: response.status, ...((await response.json()) as { motion: MotionView; error: Problem }) };
  };
  const limping = { entry: 'walk', settings: { ...WALK, limp: 0.6 } };
  const walk = sampleHouse(gaitMotion('Walk', { ...WALK, cycles: 1 }), QUAY, 30);

  it('a house motion keeps its name and settings; others can be given to it', async () => {
    const { status, motions } = await add({ house: limping, name: 'Sore walk' });
    expect(status).toBe(201);
    expect(motions[0]).toMatchObject({ kind: 'house', name: 'Sore walk', house: limping, createdBy: 'Odo' });
    const { motion } = await change(motions[0], { house: { entry: 'walk', settings: { ...WALK, limp: 0.2 } } });
    expect(motion).toMatchObject({ house: { settings: { limp: 0.2 } }, revision: 1 });
    expect((await shelf()).map(({ name }) => name)).toContain('Sore walk');
  });

  it.each([
    [{ entry: 'swim', settings: null }, 422, /no motion .*swim/],
    [{ entry: 'crouch', settings: WALK }, 422, /takes no settings/],
    [{ entry: 'walk', settings: null }, 422, /lacks its settings/],
    [{ entry: 'walk', settings: { ...WALK, stride: 0 } }, 400, /stride/],
  ])('a house motion %j is refused', async (house, status, message) => {
    const before = (await shelf()).length;
    const answer = await add({ house, name: 'No' });
    expect(answer.status).toBe(status);
    expect(JSON.stringify(answer.error)).toMatch(message);
    expect(await shelf()).toHaveLength(before);
  });

  it('a kept motion comes back byte for byte, and what is no motion is refused', async () => {
    const bytes = encodeMotion(walk);
    const { status, motion } = await keep(bytes, 'Kept walk');
    expect(status).toBe(201);
    expect(motion).toMatchObject({ kind: 'kept', clipFramesPerSecond: 30 });
    const file = await getFile(new Request('http://127.0.0.1/'), { params: Promise.resolve({ motionId: motion.id }) });
    expect(new Uint8Array(await file.arrayBuffer())).toEqual(bytes);
    const refused = await keep(new TextEncoder().encode('no motion'), 'No');
    expect(refused.status).toBe(422);
    expect(refused.error.code).toBe('bad-motion-file');
  });

  it('a copy is edited for itself, and no motion can come to be appended to itself', async () => {
    const [own] = (await add({ house: limping, name: 'Original' })).motions;
    const [copy] = (await add({ copyOf: own.id })).motions;
    expect(copy.name).toBe('Original, copy');
    const edited = await change(copy, { edits: [{ kind: 'append', motionId: own.id, blend: 4, isMatching: true }] });
    expect(edited.motion.edits).toHaveLength(1);
    expect((await shelf()).find(({ id }) => id === own.id)?.edits).toEqual([]);
    const circular = await change(own, { edits: [{ kind: 'append', motionId: copy.id, blend: 4, isMatching: true }] });
    expect(circular.status).toBe(422);
    expect(circular.error.message).toMatch(/appended to itself/);
    const gone = await change(own, {
      edits: [{ kind: 'append', motionId: '00000000-0000-4000-8000-000000000000', blend: 4, isMatching: true }],
    });
    expect(gone.error.message).toMatch(/not on the shelf/);
  });

  it.each([
    [[{ kind: 'rate', framesPerSecond: 24 }], /24 frames a second, "Other" 60/],
    [[{ kind: 'trim', from: 10, to: 9_000 }], /no frames 10 to 9000/],
  ] as const)('a step that cannot be done is refused, and the motion stays as it was: %j', async (steps, message) => {
    const [own] = (await add({ house: limping, name: 'Mine' })).motions;
    const [other] = (await add({ house: limping, name: 'Other' })).motions;
    const append = { kind: 'append', motionId: other.id, blend: 4, isMatching: true } as const;
    const refused = await change(own, { edits: [...steps, append] });
    expect(refused.status).toBe(422);
    expect(refused.error.message).toMatch(message);
    const now = (await shelf()).find(({ id }) => id === own.id);
    expect([now?.edits, now?.revision]).toEqual([[], 0]);
  });

  it('a clip may have copies beside it, and putting it on the shelf again finds the first', async () => {
    const id = await take('tide-bell.bvh');
    const [first] = (await shelve(id)).motions;
    const [copy] = (await add({ copyOf: first.id })).motions;
    expect(copy.id).not.toBe(first.id);
    expect((await shelve(id)).motions.map((motion) => motion.id)).toEqual([first.id]);
  });
});
