import { describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { runFirstPass } from '@/pipeline/match';
import { matchBones } from '@/core/match/match-bones';
import type { Rig } from '@/core/rig/rig';
import { readGlb } from '@/pipeline/read-files';
import { CAST } from '../../demo/cast/cast';
import { lamplighter, type NameOf } from '../../demo/cast/lamplighter';
import { truthOf, writeFigure, type Figure, type TruthTable } from '../../demo/figure/write-figure';
import { foreignBiped, lanternBones, layDown, makeRig, muleBones, turnY, wrapGlb } from '../helpers/rig-maker';
import { FIGURES, readCast } from '../helpers/cast-files';
import { makeHandoff } from '../helpers/handoff-maker';
import { readBack } from '@/pipeline/verify';
import { TIDEWATER } from '@/core/profile/shipped';

const ROLE_IDS = new Set(QUAY.roles.map((role) => role.id));

/** Role -> bone name, as the truth table says and as the matcher answers. */
const rolesOf = (truth: TruthTable) =>
  Object.fromEntries(
    Object.entries(truth)
      .filter(([, role]) => ROLE_IDS.has(role))
      .map(([bone, role]) => [role, bone]),
  );
const wantedRoles = (figure: Figure) => rolesOf(truthOf(figure));
const foundRoles = (rig: Rig) =>
  Object.fromEntries(
    Object.values(matchBones(rig, QUAY).assignments).map((match) => [match.role, rig.bones[match.boneIndex].name]),
  );

describe.each(FIGURES)('%s', (name, truth) => {
  it('has every role right and no role too many, none in doubt', async () => {
    const { rig } = await readCast(name);
    expect(foundRoles(rig)).toEqual(rolesOf(truth));
    expect(Object.values(matchBones(rig, QUAY).assignments).filter((match) => match.state === 'doubtful')).toEqual([]);
  });

  it('explains its spares as the truth table does', async () => {
    const { rig } = await readCast(name);
    const kinds = Object.fromEntries(
      matchBones(rig, QUAY).spares.map((spare) => [rig.bones[spare.boneIndex].name, spare.kind]),
    );
    const wanted = Object.fromEntries(
      Object.entries(truth).filter(([, kind]) => !ROLE_IDS.has(kind) && kind !== 'root' && kind !== 'member'),
    );
    expect(kinds).toEqual(wanted);
  });

  it('gives the same answer twice', async () => {
    const { rig } = await readCast(name);
    expect(matchBones(rig, QUAY)).toEqual(matchBones(rig, QUAY));
  });
});

it.each(Object.entries(CAST).flatMap(([name, { creature }]) => (creature ? [[name, creature] as const] : [])))(
  '%s is seen to be a %s, and nothing on it is proposed',
  async (name, creature) => {
    const match = matchBones((await readCast(name)).rig, QUAY);
    expect(match.creature).toMatchObject({ isHumanoid: false, kind: creature });
    expect(match.creature.reasons[0].length).toBeGreaterThan(10);
    expect(Object.values(match.assignments).filter((entry) => entry.state === 'proposed')).toEqual([]);
  },
);

const words = (part: string): string[] =>
  part
    .replace(/([A-Z])/g, ' $1')
    .trim()
    .toLowerCase()
    .split(' ');
const HABITS: Record<string, NameOf> = {
  'a prefix': (part, side) => `tidefolk_${side ?? ''}${part}`,
  'side marks before': (part, side) => `${side ? `${side[0].toUpperCase()}_` : ''}${part}`,
  'side marks in the middle': (part, side) => `lt_${side ? `${side[0]}_` : ''}${words(part).join('_')}`,
  'side marks after': (part, side) => `${words(part).join('')}${side ? `.${side[0].toUpperCase()}` : ''}`,
  'camel case': (part, side) => (side ? side + part : part[0].toLowerCase() + part.slice(1)),
  'snake case': (part, side) => [...words(part), ...(side ? [side] : [])].join('_'),
  spaces: (part, side) => [...(side ? [side[0].toUpperCase()] : []), ...words(part)].join(' '),
};

describe('renamed copies of the lamplighter', () => {
  it.each(Object.entries(HABITS))('with %s are all right and all proposed', async (_habit, nameOf) => {
    const figure = lamplighter(nameOf);
    const { rig } = await readGlb(await writeFigure(figure), 'copy');
    expect(foundRoles(rig)).toEqual(wantedRoles(figure));
    const doubtful = Object.values(matchBones(rig, QUAY).assignments).filter((match) => match.state === 'doubtful');
    expect(doubtful).toEqual([]);
  });

  it.each([
    ['turned by 180 degrees', { rotation: turnY(180) }, { facing: '-Z', up: '+Y', scale: 1 }],
    ['turned by 90 degrees', { rotation: turnY(90) }, { facing: '+X', up: '+Y', scale: 1 }],
    ['lying on its back', { rotation: layDown }, { facing: '+Y', up: '-Z', scale: 1 }],
    ['100 times too big', { scale: 100 }, { facing: '+Z', up: '+Y', scale: 0.01 }],
  ] as const)('%s are all right and normalised', async (_case, transform, expected) => {
    const figure = lamplighter();
    const { rig } = await readGlb(await wrapGlb(await writeFigure(figure), transform), 'copy');
    expect(foundRoles(rig)).toEqual(wantedRoles(figure));
    const { normalisation } = runFirstPass(rig, QUAY);
    expect(normalisation).toMatchObject(expected);
    expect(normalisation.heightMetres).toBeCloseTo(2.02, 1);
  });

  it.each([
    ['lying and far too big', { rotation: layDown, scale: 100 }],
    ['turned round', { rotation: turnY(180) }],
  ])('%s are handed off upright, in metres, facing +Z', async (_case, transform) => {
    const bytes = await wrapGlb(await writeFigure(lamplighter()), transform);
    const made = await makeHandoff(bytes);
    const back = await readBack({
      bytes: made.bytes,
      rig: made.rig,
      fit: made.fit,
      definition: QUAY,
      profile: TIDEWATER,
      names: made.names,
      ...made.first,
    });
    expect(back.failures).toEqual([]);
    expect(back.heightMetres).toBeCloseTo(2.02, 1);
    expect(back.findings.filter((finding) => finding.check === 'unit-and-axes')).toEqual([]);
  });

  it('without any name keep every role', async () => {
    const figure = lamplighter();
    const { rig } = await readGlb(await writeFigure(figure), 'copy');
    const nameless = {
      ...rig,
      bones: rig.bones.map((bone) => ({ ...bone, name: `node ${bone.nodeIndex}`, isNamed: false })),
    };
    const found = Object.fromEntries(
      Object.values(matchBones(nameless, QUAY).assignments).map((match) => [
        match.role,
        rig.bones[match.boneIndex].name,
      ]),
    );
    expect(found).toEqual(wantedRoles(figure));
  });
});

describe('what is no humanoid', () => {
  it('refuses a four-legged skeleton, and says why', () => {
    const { creature } = matchBones(makeRig(muleBones(), true), QUAY);
    expect(creature.isHumanoid).toBe(false);
    expect(creature.kind).toBe('four-legged');
    expect(creature.reasons[0]).toMatch(/limbs hang/);
  });

  it('refuses a prop on a chain, and says why', () => {
    const { creature } = matchBones(makeRig(lanternBones(), true), QUAY);
    expect(creature.isHumanoid).toBe(false);
    expect(creature.reasons[0]).toMatch(/limbs/);
  });

  it('refuses a file without a skeleton', () => {
    expect(matchBones(makeRig([]), QUAY).creature).toMatchObject({ isHumanoid: false, kind: 'prop' });
  });
});

describe('a GLB that the generator did not make', () => {
  it('goes through the whole path', async () => {
    const bytes = await foreignBiped();
    const made = await makeHandoff(bytes, [
      { kind: 'align-posture' },
      { kind: 'settle', roles: QUAY.roles.map((role) => role.id) },
    ]);
    expect(made.first.match.creature.isHumanoid).toBe(true);
    expect(
      Object.fromEntries(
        Object.entries(made.fit.assignments).map(([role, { boneIndex }]) => [role, made.rig.bones[boneIndex].name]),
      ),
    ).toEqual({
      hips: 'pelvis',
      spine: 'lumbar',
      chest: 'ribs',
      neck: 'neck',
      head: 'skull',
      leftUpperLeg: 'coscia sx',
      leftLowerLeg: 'ginocchio sx',
      leftFoot: 'caviglia sx',
      leftToes: 'dita piede sx',
      rightUpperLeg: 'coscia dx',
      rightLowerLeg: 'ginocchio dx',
      rightFoot: 'caviglia dx',
      rightToes: 'dita piede dx',
      leftShoulder: 'clavicola sx',
      leftUpperArm: 'braccio sx',
      leftLowerArm: 'gomito sx',
      leftHand: 'mano sx',
      rightShoulder: 'clavicola dx',
      rightUpperArm: 'braccio dx',
      rightLowerArm: 'gomito dx',
      rightHand: 'mano dx',
    });
    const back = await readBack({
      bytes: made.bytes,
      rig: made.rig,
      fit: made.fit,
      definition: QUAY,
      profile: TIDEWATER,
      names: made.names,
      ...made.first,
    });
    expect(back.failures).toEqual([]);
    expect(back.validator.errors).toBe(0);
  });
});
