import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { FitActionSchema, type FitAction } from '@/core/fit/actions/fit-actions';
import { POST as postChange } from '@/app/api/characters/[characterId]/fit/changes/route';
import { findCharacter } from '@/server/characters/character-repository';
import { addFile } from '@/server/intake/add-files';
import { closeDatabase } from '@/server/database/connection';
import { models } from '@/server/database/models';
import { changeFit, readFitView, redoFit, undoFit } from '@/server/fits/change-fit';
import { eelSeller } from '../../demo/cast/eel-seller';
import { writeFigure } from '../../demo/figure/write-figure';
import { proofSize } from '../helpers/proof-size';
import { withFreshDatabase } from './fresh-database';

withFreshDatabase();

const newCharacter = async () =>
  (await addFile({ bytes: await writeFigure(eelSeller()), fileName: 'eel-seller.glb', author: 'Maren' })).id;
const viewOf = async (id: string) =>
  readFitView(
    (await findCharacter(id)) ??
      (() => {
        throw new Error('lost');
      })(),
  );

describe('changing a fit', () => {
  it('appends a row with revision, author and words', async () => {
    const id = await newCharacter();
    const result = await changeFit(id, { kind: 'clear', role: 'jaw' }, { baseRevision: 0, author: 'Odo' });
    expect(result).toMatchObject({ ok: true, fit: { revision: 1, canUndo: true, canRedo: false } });
    expect((await viewOf(id)).history.slice(0, 2)).toMatchObject([
      { revision: 1, kind: 'act', description: 'Jaw cleared', author: 'Odo' },
      { revision: 0, kind: 'start', author: 'Maren' },
    ]);
    expect(await models().FitChange.count()).toBe(2);
  });

  it('answers a change on an old revision with a conflict and the newer fit, and overwrites nothing', async () => {
    const id = await newCharacter();
    await changeFit(id, { kind: 'clear', role: 'jaw' }, { baseRevision: 0, author: 'Odo' });
    const late = await changeFit(id, { kind: 'clear', role: 'neck' }, { baseRevision: 0, author: 'Maren' });
    expect(late).toMatchObject({ ok: false, code: 'conflict', fit: { revision: 1 } });
    const { state } = await viewOf(id);
    expect(state.assignments).toHaveProperty('neck');
    expect(state.assignments).not.toHaveProperty('jaw');
  });

  it('lets just one of many changes sent at the same moment through', async () => {
    const id = await newCharacter();
    const roles = ['jaw', 'neck', 'chest', 'leftToes', 'rightToes', 'leftShoulder'];
    const results = await Promise.all(
      roles.map((role) => changeFit(id, { kind: 'clear', role }, { baseRevision: 0, author: role })),
    );
    expect(results.filter((result) => result.ok)).toHaveLength(1);
    expect((await viewOf(id)).revision).toBe(1);
  });

  it('answers over HTTP with 200, 400, 409 and 422', async () => {
    const id = await newCharacter();
    const send = (body: unknown) =>
      postChange(new Request('http://yarvo.test/', { method: 'POST', body: JSON.stringify(body) }), {
        params: Promise.resolve({ characterId: id }),
      });
    expect((await send({ baseRevision: 0, action: { kind: 'clear', role: 'jaw' } })).status).toBe(200);
    expect((await send({ baseRevision: 0, action: { kind: 'clear', role: 'neck' } })).status).toBe(409);
    expect((await send({ baseRevision: 1, action: { kind: 'clear', role: 'jaw' } })).status).toBe(422);
    const bad = await send({ baseRevision: -1, action: { kind: 'paint' } });
    expect(bad.status).toBe(400);
    expect(((await bad.json()) as { error: { place: string } }).error.place).toMatch(/baseRevision.*action/);
  });
});

const ROLES = QUAY.roles.map((role) => role.id);
const action: fc.Arbitrary<FitAction> = fc.oneof(
  {
    weight: 6,
    arbitrary: fc.record({
      kind: fc.constant('assign' as const),
      role: fc.constantFrom(...ROLES),
      boneIndex: fc.nat(77),
    }),
  },
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('clear' as const), role: fc.constantFrom(...ROLES) }) },
  {
    weight: 2,
    arbitrary: fc.record({
      kind: fc.constant('settle' as const),
      roles: fc.uniqueArray(fc.constantFrom(...ROLES), { minLength: 1, maxLength: 5 }),
    }),
  },
  {
    weight: 1,
    arbitrary: fc.constantFrom<FitAction>(
      { kind: 'swap-sides' },
      { kind: 'rematch' },
      { kind: 'align-posture' },
      { kind: 'reset-posture' },
      { kind: 'turn-roles', roles: ['leftUpperArm', 'rightUpperArm'], about: 'hinge', degrees: 5 },
      { kind: 'mirror-posture', from: 'left' },
      { kind: 'settle-above', confidence: 0.8 },
    ),
  },
);

/** Actions of a history. */
const COUNT = proofSize(40, 100);

describe('undo', () => {
  it.each(proofSize([11], [11, 23, 47]))(
    'takes random actions back to the identical state, also after a restart (seed %i)',
    async (seed) => {
      const id = await newCharacter();
      const start = (await viewOf(id)).state;
      const [actions] = fc.sample(fc.array(action, { minLength: COUNT, maxLength: COUNT }), { numRuns: 1, seed });
      let revision = 0;
      let done = 0;
      for (const step of actions) {
        const result = await changeFit(id, FitActionSchema.parse(step), { baseRevision: revision, author: 'fuzz' });
        if (!result.ok) {
          expect(result.code).toBe('not-possible');
          continue;
        }
        revision = result.fit.revision;
        done++;
      }
      expect(done).toBeGreaterThan(COUNT / 2);
      const end = (await viewOf(id)).state;
      // All connections are closed and opened again: nothing of the history may live in memory.
      await closeDatabase();
      for (let step = 0; step < done; step++) {
        const result = await undoFit(id, { baseRevision: revision, author: 'fuzz' });
        if (!result.ok) throw new Error(result.message);
        revision = result.fit.revision;
      }
      const back = await viewOf(id);
      expect(back.state).toEqual(start);
      expect(back.canUndo).toBe(false);
      expect(await undoFit(id, { baseRevision: revision, author: 'fuzz' })).toMatchObject({
        ok: false,
        code: 'not-possible',
      });
      for (let step = 0; step < done; step++) {
        const result = await redoFit(id, { baseRevision: revision, author: 'fuzz' });
        if (!result.ok) throw new Error(result.message);
        revision = result.fit.revision;
      }
      expect((await viewOf(id)).state).toEqual(end);
    },
  );
});
