import { expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { roleBonesOf } from '@/core/fit/fit';
import { computeNormalisation } from '@/core/frame/normalise';
import { classifyPosture } from '@/core/posture/classify-posture';
import { measurePosture } from '@/core/posture/measure-posture';
import { computeWorlds } from '@/core/rig/pose';
import { readGlb } from '@/pipeline/read-files';
import { readCast, SKINNED } from '../helpers/cast-files';
import { makeHandoff } from '../helpers/handoff-maker';
import { parseGlb, worldsOf } from '../helpers/raw-glb';

const DEGREES = 180 / Math.PI;

it.each(SKINNED)('%s: what is written stands as the screen promised, read back by other code', async (name) => {
  const { bytes, rig, fit, first, names } = await makeHandoff((await readCast(name)).glb, [
    { kind: 'align-posture' },
    { kind: 'turn-roles', roles: ['leftUpperArm'], about: 'front', degrees: -7.5 },
  ]);
  const roleBones = roleBonesOf(fit);
  const promised = measurePosture({
    rig,
    definition: QUAY,
    ...first,
    roleBones,
    worlds: computeWorlds(rig, fit.posture),
  });

  const { rig: written } = await readGlb(bytes, name);
  const raw = worldsOf(parseGlb(bytes));
  const boneOf = new Map(written.bones.map((bone) => [bone.name, bone.index]));
  const found = measurePosture({
    rig: written,
    definition: QUAY,
    // What is written is metres, Y up, facing +Z: nothing is left to normalise.
    normalisation: computeNormalisation(written, first.match.frame, { unitMetres: 1, up: '+Y', facing: '+Z' }),
    roleBones: new Map([...roleBones].map(([role, bone]) => [role, boneOf.get(names.names[bone]) as number])),
    worlds: written.bones.map(({ nodeIndex }) => raw[nodeIndex]),
  });
  expect(classifyPosture(found, QUAY).class).toBe(classifyPosture(promised, QUAY).class);
  expect(found.deviations.length).toBe(promised.deviations.length);
  const after = new Map(found.deviations.map(({ role, deviationRad }) => [role, deviationRad * DEGREES]));
  for (const { role, deviationRad } of promised.deviations)
    expect(Math.abs((after.get(role) ?? 999) - deviationRad * DEGREES), role).toBeLessThan(0.01);
  expect(after.get('leftUpperArm')).toBeCloseTo(7.5, 2);
});
