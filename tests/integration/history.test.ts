import { describe, expect, it } from 'vitest';
import { GET as getHistory } from '@/app/api/characters/[characterId]/fit/history/route';
import { POST as postRestore } from '@/app/api/characters/[characterId]/fit/restore/route';
import type { CharacterView, HistoryEntry } from '@/contract/character-view';
import { QUAY } from '@/core/definition/quay';
import { FitActionSchema, type FitAction } from '@/core/fit/actions/fit-actions';
import { readCharacter } from '@/server/views/read-characters';
import { addFile } from '@/server/intake/add-files';
import { closeDatabase } from '@/server/database/connection';
import { changeFit, changeIntake, redoFit, restoreFit, undoFit } from '@/server/fits/change-fit';
import { CAST } from '../../demo/cast/cast';
import { Random } from '../../bench/match/random';
import { withFreshDatabase } from './fresh-database';

withFreshDatabase();

const author = 'Maren';
const take = async (name: string) => (await addFile({ bytes: await CAST[name].make(), fileName: name, author })).id;
const view = async (id: string): Promise<CharacterView> => (await readCharacter(id)) as CharacterView;
const revisionOf = async (id: string) => (await view(id)).fit.revision;
const at = (characterId: string) => ({ params: Promise.resolve({ characterId }) });
const post = (body: unknown) =>
  new Request('http://yarvo.test/', {
    method: 'POST',
    body: JSON.stringify(body),
    headers: { cookie: 'yarvo-who=Odo' },
  });

/** Any action a person can do, with whatever bones and roles come up. */
function anyAction(random: Random, bones: number): FitAction {
  const role = () => random.pick(QUAY.roles).id;
  const bone = () => random.int(0, bones - 1);
  const action = random.pick<FitAction>([
    { kind: 'assign', role: role(), boneIndex: bone() },
    { kind: 'assign', role: role(), boneIndex: bone() },
    { kind: 'clear', role: role() },
    { kind: 'settle', roles: [role(), role()] },
    { kind: 'settle-above', confidence: 0.9 },
    { kind: 'swap', roles: [role(), role()] },
    { kind: 'clear-line', line: random.pick(QUAY.lines).id },
    { kind: 'mirror', from: random.pick(['left', 'right'] as const) },
    { kind: 'leave-vacant', role: role() },
    { kind: 'fill-line', line: random.pick(QUAY.lines).id, bones: [bone()] },
    { kind: 'set-spare-kind', bones: [bone(), bone()], spareKind: 'prop' },
    { kind: 'swap-sides' },
    { kind: 'align-posture' },
    { kind: 'reset-posture' },
    { kind: 'turn-roles', roles: [role(), role()], about: 'front', degrees: random.int(-20, 20) },
    { kind: 'mirror-posture', from: random.pick(['left', 'right'] as const) },
  ]);
  return FitActionSchema.parse(action);
}

describe('the history of a fit', () => {
  it('brings 100 random actions back to the identical state by undo, forth again by redo, also after the connections were closed', async () => {
    const id = await take('net-mender.glb');
    const before = await view(id);
    const random = new Random(20);
    let done = 0;
    for (let tries = 0; done < 100 && tries < 300; tries++) {
      const result = await changeFit(id, anyAction(random, before.rig.bones.length), { baseRevision: done, author });
      if (result.ok) done++;
      else expect(result.code).toBe('not-possible');
    }
    expect(done).toBe(100);
    const changed = await view(id);
    expect(changed.fit.state).not.toEqual(before.fit.state);
    // Connections of the pool are closed half-way: what counts is in the database.
    for (let step = 0; step < 100; step++) {
      if (step === 50) await closeDatabase();
      expect(await undoFit(id, { baseRevision: 100 + step, author })).toMatchObject({ ok: true });
    }
    const undone = await view(id);
    expect(undone.fit.state).toEqual(before.fit.state);
    expect(undone.fit.canUndo).toBe(false);
    expect(undone.fit.findings).toEqual(before.fit.findings);
    for (let step = 0; step < 100; step++) await redoFit(id, { baseRevision: 200 + step, author });
    expect((await view(id)).fit.state).toEqual(changed.fit.state);
  });

  it('can be read to its start, page by page, with who and when', async () => {
    const id = await take('eel-seller.glb');
    const role = 'jaw';
    for (let step = 0; step < 210; step++)
      await changeFit(id, step % 2 === 0 ? { kind: 'assign', role, boneIndex: 0 } : { kind: 'clear', role }, {
        baseRevision: step,
        author,
      });
    const { fit } = await view(id);
    expect(fit.history).toHaveLength(200);
    const oldest = fit.history[199].revision;
    const older = (await (await getHistory(new Request(`http://yarvo.test/?before=${oldest}`), at(id))).json()) as {
      history: HistoryEntry[];
    };
    expect(older.history.map(({ revision }) => revision)).toEqual(
      Array.from({ length: oldest }, (_, index) => oldest - 1 - index),
    );
    expect(older.history[0]).toMatchObject({ author: 'Maren' });
    expect(Date.parse(older.history[0].at)).toBeLessThanOrEqual(Date.now());
    expect((await getHistory(new Request('http://yarvo.test/?before=x'), at(id))).status).toBe(400);
  });

  it('restores any point as a new step, which can be undone; a point ahead is refused', async () => {
    const id = await take('ferry-pilot.fbx');
    const start = await view(id);
    await changeFit(id, { kind: 'clear', role: 'head' }, { baseRevision: 0, author });
    const folds = start.sheet.copies.map(({ from, into }) => ({ from, into }));
    await changeIntake(id, { folds }, { baseRevision: 1, author });
    const folded = await view(id);
    const answer = await postRestore(post({ baseRevision: 2, revision: 0 }), at(id));
    expect(answer.status).toBe(200);
    const restored = await view(id);
    expect(restored.fit.state).toEqual(start.fit.state);
    expect(restored.rig.bones).toHaveLength(start.rig.bones.length);
    expect(restored.fit.history[0]).toMatchObject({ revision: 3, description: 'back to revision 0', author: 'Odo' });
    await undoFit(id, { baseRevision: 3, author });
    expect((await view(id)).fit.state).toEqual(folded.fit.state);
    expect(await restoreFit(id, 99, { baseRevision: 4, author })).toMatchObject({ ok: false, code: 'not-possible' });
    expect((await postRestore(post({ baseRevision: 4 }), at(id))).status).toBe(400);
    expect((await postRestore(post({ baseRevision: 1, revision: 0 }), at(id))).status).toBe(409);
  });
});

describe('a closed fit', () => {
  it('takes no change by any way until it is reopened with a reason, which the history keeps', async () => {
    const id = await take('lamplighter.glb');
    await changeFit(id, { kind: 'settle-above', confidence: 0.5 }, { baseRevision: 0, author });
    expect(await changeFit(id, { kind: 'close' }, { baseRevision: 1, author })).toMatchObject({ ok: true });
    const closed = { ok: false, code: 'not-possible', message: expect.stringContaining('closed') };
    expect(await changeFit(id, { kind: 'clear', role: 'head' }, { baseRevision: 2, author })).toMatchObject(closed);
    expect(await undoFit(id, { baseRevision: 2, author })).toMatchObject(closed);
    expect(await restoreFit(id, 0, { baseRevision: 2, author })).toMatchObject(closed);
    expect(await changeIntake(id, { unitMetres: 0.5 }, { baseRevision: 2, author })).toMatchObject(closed);
    expect(await revisionOf(id)).toBe(2);
    expect(
      await changeFit(
        id,
        { kind: 'reopen', reason: 'the lantern moved to the other hand' },
        { baseRevision: 2, author: 'Odo' },
      ),
    ).toMatchObject({ ok: true });
    const { fit } = await view(id);
    expect(fit.state.isClosed).toBe(false);
    expect(fit.history[0]).toMatchObject({
      description: 'fit reopened: the lantern moved to the other hand',
      author: 'Odo',
    });
    expect(await changeFit(id, { kind: 'clear', role: 'head' }, { baseRevision: 3, author })).toMatchObject({
      ok: true,
    });
  });
});

describe('repair of the tree', () => {
  it('is kept with the fit, carries the assignments along, is undone, and counts nodes as the file was read', async () => {
    const id = await take('net-mender.glb');
    const before = await view(id);
    const hand = before.fit.state.assignments.leftHand.boneIndex;
    const forearm = before.rig.bones[hand].parent;
    await changeFit(id, { kind: 'settle', roles: ['leftHand'] }, { baseRevision: 0, author });
    expect(
      await changeIntake(
        id,
        { tree: [{ kind: 'insert', node: before.rig.bones[hand].nodeIndex, share: 0.5, name: 'net_wrist' }] },
        { baseRevision: 1, author },
      ),
    ).toMatchObject({ ok: true });
    const repaired = await view(id);
    const now = repaired.fit.state.assignments.leftHand;
    expect(now.state).toBe('settled');
    expect(repaired.rig.bones[now.boneIndex].name).toBe(before.rig.bones[hand].name);
    expect(repaired.rig.bones[repaired.rig.bones[now.boneIndex].parent].name).toBe('net_wrist');
    const nodeNow = repaired.rig.bones[now.boneIndex].nodeIndex;
    expect(repaired.origins?.[nodeNow] ?? nodeNow).toBe(before.rig.bones[hand].nodeIndex);
    const root = before.rig.bones[forearm].nodeIndex;
    expect(
      await changeIntake(
        id,
        { tree: [{ kind: 'reparent', node: root, parent: root, name: 'it', parentName: 'that' }] },
        { baseRevision: 2, author },
      ),
    ).toMatchObject({ ok: false, message: expect.stringContaining('cannot be parented to') });
    await undoFit(id, { baseRevision: 2, author });
    expect((await view(id)).rig.bones).toHaveLength(before.rig.bones.length);
  });
});
