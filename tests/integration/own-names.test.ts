import { QueryTypes } from 'sequelize';
import * as bends from '@/server/database/migrations/0009-bends-and-tolerances';
import * as readingsApart from '@/server/database/migrations/0006-readings-and-matches';
import { seedLibrary } from '@/server/library/studio';
import { expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { models } from '@/server/database/models';
import { database } from '@/server/database/connection';
import * as ownNames from '@/server/database/migrations/0004-own-names';
import { readCharacter } from '@/server/views/read-characters';
import { addFile } from '@/server/intake/add-files';
import { changeFit } from '@/server/fits/change-fit';
import { eelSeller } from '../../demo/cast/eel-seller';
import { writeFigure } from '../../demo/figure/write-figure';
import { withFreshDatabase } from './fresh-database';

withFreshDatabase();

/** Everything that the migration may touch, as it is kept. */
const kept = async () => ({
  changes: (await models().FitChange.findAll({ order: [['revision', 'ASC']] })).map(
    ({ state, action, description }) => ({
      state: JSON.parse(state) as { definitionVersion: number },
      action,
      description,
    }),
  ),
  // Before the migration that tells readings and matches apart, as they were called then.
  readings: (
    await database().query<{ firstPass: string; rig: string; sheet: string }>(
      'SELECT first_pass AS firstPass, rig, sheet FROM interpretations',
      { type: QueryTypes.SELECT },
    )
  ).map(({ firstPass, rig, sheet }) => ({
    firstPass: JSON.parse(firstPass) as { match: { spares: { kind: string }[] } },
    rig,
    sheet,
  })),
});

it('fits of version 1 of the definition are carried over by names only, and back', async () => {
  const { id } = await addFile({ bytes: await writeFigure(eelSeller()), fileName: 'eel.glb', author: 'Maren' });
  const view = await readCharacter(id);
  const dangling = view?.match.spares.filter(({ kind }) => kind === 'dangling').map(({ boneIndex }) => boneIndex) ?? [];
  expect(dangling.length).toBeGreaterThan(3);
  await changeFit(
    id,
    { kind: 'set-spare-kind', bones: [dangling[0]], spareKind: 'control' },
    { baseRevision: 0, author: 'Maren' },
  );
  await changeFit(
    id,
    { kind: 'set-spare-kind', bones: [dangling[1]], spareKind: 'twist' },
    { baseRevision: 1, author: 'Maren' },
  );
  const query = database().getQueryInterface();
  await bends.down(query);
  await readingsApart.down(query);
  const now = await kept();
  await ownNames.down(query);
  const before = await kept();
  expect(before.changes.map(({ state }) => state.definitionVersion)).toEqual([1, 1, 1]);
  expect(before.changes[1].action).toBe(
    JSON.stringify({ kind: 'set-spare-kind', bones: [dangling[0]], spareKind: 'anchor' }),
  );
  expect(JSON.stringify(before)).not.toMatch(/dangling|"control"/);
  // Nothing else differs: with the names put back by hand it is the same to the letter.
  const byHand = JSON.stringify(before)
    .replaceAll('"anchor"', '"control"')
    .replaceAll('\\"anchor\\"', '\\"control\\"')
    .replaceAll('"cloth"', '"dangling"')
    .replaceAll('"definitionVersion":1', '"definitionVersion":2');
  expect(JSON.parse(byHand)).toEqual(now);
  await ownNames.up(query);
  expect(await kept()).toEqual(now);
  await readingsApart.up(query);
  await bends.up(query);
  await seedLibrary();
  expect(await readCharacter(id)).toMatchObject({
    fit: {
      state: { definitionVersion: QUAY.version, spareKinds: { [dangling[0]]: 'control', [dangling[1]]: 'twist' } },
    },
  });
});

it('exports call bones as the labels do', () => {
  const names = new Map(QUAY.roles.map(({ id, exportName }) => [id, exportName]));
  expect(
    ['hips', 'spine', 'chest', 'upperChest', 'leftShoulder', 'leftUpperArm', 'rightLowerArm', 'leftUpperLeg'].map(
      (role) => names.get(role),
    ),
  ).toEqual([
    'quay_hips',
    'quay_back_1',
    'quay_back_2',
    'quay_back_3',
    'quay_collar_left',
    'quay_upper_arm_left',
    'quay_forearm_right',
    'quay_thigh_left',
  ]);
  expect(QUAY.version).toBe(3);
});
