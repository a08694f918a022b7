import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { POST as postBoard } from '@/app/api/board/route';
import { POST as postCharacters } from '@/app/api/characters/route';
import { POST as postMotion } from '@/app/api/motions/[motionId]/route';
import { POST as postKept } from '@/app/api/motions/kept/route';
import { POST as postShelf } from '@/app/api/motions/route';
import { POST as postOut } from '@/app/api/motions/out/route';
import { GET as getProfile } from '@/app/api/profiles/[profileId]/route';
import { POST as postProfile } from '@/app/api/profiles/route';
import type { JobView } from '@/contract/jobs';
import type { MotionView } from '@/contract/motions';
import type { Problem } from '@/core/errors/yarvo-error';
import { QUAY } from '@/core/definition/quay';
import { WALK } from '@/core/house/gait-settings';
import { gaitMotion } from '@/core/house/gait';
import { sampleHouse } from '@/core/house/house-motion';
import { encodeMotion } from '@/core/motion/motion-file';
import { TIDEWATER } from '@/core/profile/shipped';
import { findCurrentFit } from '@/server/fits/fit-repository';
import { addFile } from '@/server/intake/add-files';
import { models } from '@/server/database/models';
import { withFreshDatabase } from './fresh-database';

withFreshDatabase();

const demo = (name: string) => new Uint8Array(readFileSync(`demo/files/${name}`));
const take = async (file: string) => (await addFile({ bytes: demo(file), fileName: file, author: 'Maren' })).id;
const sent = (body: unknown, author = 'Odo', query = '') =>
  new Request(`http://127.0.0.1/api${query}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', cookie: `yarvo-who=${author}` },
    body: JSON.stringify(body),
  });
const SENDERS = ['Maren', 'Odo', 'Tilda', 'Wim', 'Jost', 'Ebba'];
const shelve = async (characterId: string, callId?: string): Promise<MotionView[]> =>
  ((await (await postShelf(sent({ characterId, callId }))).json()) as { motions: MotionView[] }).motions;
const change = (id: string, baseRevision: number, wanted: object) =>
  postMotion(sent({ baseRevision, change: wanted }), { params: Promise.resolve({ motionId: id }) });

describe('engine profiles', () => {
  const newest = async (id: string) => {
    const response = await getProfile(new Request(`http://127.0.0.1/api/profiles/${id}`), {
      params: Promise.resolve({ profileId: id }),
    });
    return ((await response.json()) as { profile: typeof TIDEWATER }).profile;
  };

  it('of many senders of the same next version one is acknowledged; each other is told whose it is', async () => {
    const id = `p-${randomUUID().slice(0, 8)}`;
    for (let version = 1; version <= 4; version++) {
      const answers = await Promise.all(
        SENDERS.map((author) =>
          postProfile(sent({ ...TIDEWATER, id, version, label: `${author}'s` }, author)).then(async (response) => ({
            status: response.status,
            body: (await response.json()) as { profile?: { label: string }; error?: Problem },
          })),
        ),
      );
      const kept = answers.filter(({ status }) => status === 201);
      expect(kept).toHaveLength(1);
      expect((await newest(id)).label).toBe(kept[0].body.profile?.label);
      for (const { status, body } of answers.filter((answer) => answer.status !== 201)) {
        expect(status).toBe(409);
        expect(body.error).toMatchObject({ code: 'profile-behind' });
        expect(body.error?.remedy).toContain(`version ${version + 1}`);
      }
    }
    expect(await models().Library.count({ where: { kind: 'profile', id } })).toBe(4);
  });

  it('sent again under the same call are kept once, and the newest is known at once', async () => {
    const id = `p-${randomUUID().slice(0, 8)}`;
    const callId = randomUUID();
    const send = () => postProfile(sent({ ...TIDEWATER, id, version: 1 }, 'Odo', `/profiles?callId=${callId}`));
    const statuses = (await Promise.all([send(), send(), send()])).map(({ status }) => status);
    expect(statuses).toEqual([201, 201, 201]);
    expect(await models().Library.count({ where: { kind: 'profile', id } })).toBe(1);
    expect((await newest(id)).version).toBe(1);
  });

  it('name only roles that a definition of the studio has', async () => {
    const id = `p-${randomUUID().slice(0, 8)}`;
    const answer = await postProfile(sent({ ...TIDEWATER, id, version: 1, requiredRoles: ['hips', 'thirdArm'] }));
    expect(answer.status).toBe(422);
    const { error } = (await answer.json()) as { error: Problem };
    expect(error).toMatchObject({ code: 'unknown-role', place: 'requiredRoles.1' });
    expect(error.message).toContain('"thirdArm"');
  });

  it('whose kept pattern no engine of today runs stay readable', async () => {
    const id = `p-${randomUUID().slice(0, 8)}`;
    const old = { ...TIDEWATER, id, version: 1, names: { ...TIDEWATER.names, allowed: '^(?!x).*$' } };
    await models().Library.create({
      ...{ kind: 'profile', id, version: 1, label: 'Old', body: JSON.stringify(old) },
      ...{ createdBy: 'Maren', createdAt: new Date() },
    });
    expect((await newest(id)).names.allowed).toBe('^(?!x).*$');
    expect((await postProfile(sent({ ...old, version: 2 }))).status).toBe(400);
  });
});

describe('the shelf', () => {
  it('has a clip once, however many shelve it at the same moment', async () => {
    const id = await take('net-haul.glb');
    const answers = await Promise.all(SENDERS.map(() => shelve(id)));
    const ids = new Set(answers.flat().map((motion) => motion.id));
    expect(await models().Motion.count()).toBe(ids.size);
    expect(ids.size).toBe(answers[0].length);
  });

  it('makes a house motion, a copy and a kept motion once under the id of the call', async () => {
    const [call, copyCall, keptCall] = [randomUUID(), randomUUID(), randomUUID()];
    const house = { house: { entry: 'walk', settings: WALK }, name: 'Slow walk', callId: call };
    const made = await Promise.all([1, 2, 3, 4].map(async () => (await postShelf(sent(house))).json()));
    const ids = made.map((answer) => (answer as { motions: MotionView[] }).motions[0].id);
    expect(new Set(ids).size).toBe(1);
    const copy = { copyOf: ids[0], callId: copyCall };
    const copies = await Promise.all([1, 2, 3].map(async () => (await postShelf(sent(copy))).json()));
    expect(new Set(copies.map((answer) => (answer as { motions: MotionView[] }).motions[0].id)).size).toBe(1);
    const bytes = encodeMotion(sampleHouse(gaitMotion('Walk', { ...WALK, cycles: 1 }), QUAY, 30));
    const keep = () =>
      postKept(
        new Request(`http://127.0.0.1/api/motions/kept?name=Kept&callId=${keptCall}`, {
          method: 'POST',
          body: bytes as BodyInit,
        }),
      );
    const kept = await Promise.all([keep(), keep(), keep()]);
    expect(kept.map(({ status }) => status)).toEqual([201, 201, 201]);
    expect(await models().Motion.count()).toBe(3);
  });

  it('lets no two motions append each other, though both are asked at the same moment', async () => {
    const add = async (name: string) =>
      (
        (await (await postShelf(sent({ house: { entry: 'walk', settings: WALK }, name }))).json()) as {
          motions: MotionView[];
        }
      ).motions[0];
    for (let round = 0; round < 4; round++) {
      const [a, b] = [await add(`a ${round}`), await add(`b ${round}`)];
      const append = (motion: MotionView, other: MotionView) =>
        change(motion.id, motion.revision, {
          edits: [{ kind: 'append', motionId: other.id, blend: 4, isMatching: false }],
        });
      const statuses = (await Promise.all([append(a, b), append(b, a)])).map(({ status }) => status).sort();
      expect(statuses).toEqual([200, 422]);
    }
  });

  it('changes a reference and all else of a change together, or nothing where somebody was first', async () => {
    const id = await take('quay-walk.bvh');
    const [motion] = await shelve(id);
    const before = await findCurrentFit(id);
    const wanted = { reference: { kind: 'frame', frame: 3 }, name: 'Other' };
    const answers = await Promise.all([
      change(motion.id, motion.revision, { name: 'First' }),
      change(motion.id, motion.revision, wanted),
      change(motion.id, motion.revision, { ...wanted, name: 'Third' }),
    ]);
    const statuses = answers.map(({ status }) => status);
    expect(statuses.filter((status) => status === 200)).toHaveLength(1);
    const after = await findCurrentFit(id);
    const isReference = statuses[0] !== 200;
    // A refused change left no step behind; the one that was taken left one.
    expect(after?.revision).toBe((before?.revision ?? 0) + (isReference ? 1 : 0));
    expect(after?.state.intake.pose.kind).toBe(isReference ? 'frame' : 'rest');
  });
});

describe('uploads, boards and zips', () => {
  it('one upload id sent several times at once makes one character', async () => {
    const upload = randomUUID();
    const bytes = demo('lantern.glb');
    const send = () =>
      postCharacters(
        new Request(`http://127.0.0.1/api/characters?name=lantern.glb&upload=${upload}`, {
          method: 'POST',
          body: bytes as BodyInit,
        }),
      );
    const answers = await Promise.all([send(), send(), send(), send()]);
    expect(answers.map(({ status }) => status)).toEqual([202, 202, 202, 202]);
    const jobs = await Promise.all(answers.map(async (answer) => ((await answer.json()) as { job: JobView }).job.id));
    expect(new Set(jobs)).toEqual(new Set([upload]));
    for (let tries = 0; tries < 600 && (await models().Character.count()) === 0; tries++)
      await new Promise((resolve) => setTimeout(resolve, 50));
    expect(await models().Character.count()).toBe(1);
    expect(await models().Job.count()).toBe(1);
  });

  it('a board and a zip asked for twice under one id are one job', async () => {
    const id = await take('lamplighter.glb');
    for (const [post, more] of [
      [postBoard, {}],
      [
        postOut,
        { formats: ['bvh'], hasMesh: false, template: '{character}-{motion}', framesPerSecond: null, root: null },
      ],
    ] as const) {
      const jobId = randomUUID();
      const body = { characterIds: [id], motionKeys: ['house-walk'], jobId, ...more };
      const answers = await Promise.all([post(sent(body)), post(sent(body))]);
      expect(answers.map(({ status }) => status)).toEqual([202, 202]);
      expect(await models().Job.count({ where: { id: jobId } })).toBe(1);
    }
  });
});
