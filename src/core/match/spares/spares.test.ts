import { describe, expect, it } from 'vitest';
import { plainBiped } from '../../../../tests/helpers/plain-biped';
import { makeRig, type PlainBone } from '../../../../tests/helpers/rig-maker';
import { QUAY } from '../../definition/quay';
import type { Vec3 } from '../../math/vec3';
import type { Rig } from '../../rig/rig';
import { matchBones } from '../match-bones';

const body = plainBiped({ toes: 0.12, thumbs: 0.03, face: 0.09 }, ['left', 'right']);
const at = (position: Vec3): string => {
  const bone = body.find((candidate) =>
    candidate.position.every((value, axis) => Math.abs(value - position[axis]) < 1e-6),
  );
  if (!bone) throw new Error(`no bone at ${position.join()}`);
  return bone.name;
};
const [HEAD, CHEST, HIPS] = [at([0, 1.56, 0]), at([0, 1.25, 0]), at([0, 0.95, 0])];
const [ARM, FOREARM, HAND, THIGH, SHIN] = [
  at([0.18, 1.43, 0]),
  at([0.46, 1.43, 0]),
  at([0.72, 1.43, 0]),
  at([0.1, 0.92, 0]),
  at([0.1, 0.5, 0]),
];

/** Bones that move no vertices. */
const without = (rig: Rig, names: readonly string[]): Rig => ({
  ...rig,
  bones: rig.bones.map((bone) => (names.includes(bone.name) ? { ...bone, skinWeight: 0, skinVertexCount: 0 } : bone)),
});

/** Spares among added bones, by name; all bones carry skin but those named in `loose`. */
function spares(added: readonly PlainBone[], loose: readonly string[] = []) {
  const bones = [...body, ...added];
  const rig = without(makeRig(bones, true), loose);
  const match = matchBones(rig, QUAY);
  const list = new Map(
    match.spares.map((spare) => [
      bones[spare.boneIndex].name,
      { ...spare, rider: spare.ridesOn >= 0 ? bones[spare.ridesOn].name : null },
    ]),
  );
  return (name: string) => list.get(name);
}

describe('spares are explained by place where the name says nothing', () => {
  it('on the way along a limb: a twist that rides on its segment', () => {
    const of = spares([
      { name: 'z1', parent: FOREARM, position: [0.59, 1.43, 0] },
      { name: 'z2', parent: THIGH, position: [0.1, 0.7, 0] },
    ]);
    expect(of('z1')).toMatchObject({ kind: 'twist', rider: FOREARM, reason: expect.stringContaining('left forearm') });
    expect(of('z2')).toMatchObject({ kind: 'twist', rider: THIGH });
  });

  it('at the end of a chain, without vertices: a tip; turning back it is none', () => {
    const of = spares([{ name: 'z1', parent: HEAD, position: [0, 1.8, 0] }], ['z1']);
    expect(of('z1')).toMatchObject({ kind: 'tip', rider: HEAD });
    const back = spares([{ name: 'z1', parent: HEAD, position: [0, 1.45, -0.1] }], ['z1']);
    expect(back('z1')?.kind).not.toBe('tip');
  });

  it("on a mapped joint it does not hang on, without vertices: a control, also far from the body's tree", () => {
    const of = spares(
      [
        { name: 'z1', parent: HIPS, position: [0.72, 1.43, 0] },
        { name: 'z2', parent: null, position: [3, 0, 0] },
      ],
      ['z1', 'z2'],
    );
    expect(of('z1')).toMatchObject({ kind: 'control', reason: expect.stringContaining('stands on a mapped joint') });
    expect(of('z2')).toMatchObject({ kind: 'leftover', rider: null });
  });

  it('a chain that hangs down and carries vertices: cloth, riding on what it hangs from', () => {
    const chain = [0, 1, 2].map((step): PlainBone => ({
      name: `z${step}`,
      parent: step === 0 ? HIPS : `z${step - 1}`,
      position: [0, 0.85 - 0.12 * step, -0.15],
    }));
    const of = spares(chain);
    for (const { name } of chain) expect(of(name)).toMatchObject({ kind: 'dangling', rider: HIPS });
  });

  it('a lone bone beside a limb that carries vertices: a helper; one on the head: part of the face', () => {
    const of = spares([
      { name: 'z1', parent: CHEST, position: [0.07, 1.3, 0.1] },
      { name: 'z2', parent: HEAD, position: [0.02, 1.7, 0.1] },
    ]);
    expect(of('z1')).toMatchObject({ kind: 'helper', rider: CHEST });
    expect(of('z2')).toMatchObject({ kind: 'face', rider: HEAD });
  });
});

describe('spares are explained by name before place', () => {
  it.each([
    ['cape', CHEST, [0.02, 1.2, -0.12], 'dangling'],
    ['ponytail', HEAD, [0, 1.5, -0.14], 'dangling'],
    ['lantern_prop', HAND, [0.76, 1.38, 0.02], 'prop'],
    ['forearm_roll', FOREARM, [0.5, 1.3, 0.1], 'twist'],
    ['eyebrow', HEAD, [0.03, 1.7, 0.1], 'face'],
  ] as const)('%s', (name, parent, position, kind) => {
    expect(spares([{ name, parent, position: [...position] }])(name)).toMatchObject({
      kind,
      reason: expect.stringContaining('name says'),
    });
  });

  it('but a target that carries vertices is none', () => {
    const name = 'hand_target';
    const place: Vec3 = [0.74, 1.3, 0.2];
    expect(spares([{ name, parent: HIPS, position: place }], [name])(name)?.kind).toBe('control');
    expect(spares([{ name, parent: HIPS, position: place }])(name)?.kind).not.toBe('control');
  });

  it('and mapped bones, runs and the root are no spares', () => {
    const root: PlainBone = { name: 'quay_ground', parent: null, position: [0, 0, 0] };
    const bones = [root, ...body.map((bone) => (bone.parent === null ? { ...bone, parent: root.name } : bone))];
    const match = matchBones(makeRig(bones, true), QUAY);
    const explained = new Set(match.spares.map(({ boneIndex }) => boneIndex));
    expect(bones[match.rootBone].name).toBe('quay_ground');
    expect(explained.has(match.rootBone)).toBe(false);
    for (const { boneIndex } of Object.values(match.assignments)) expect(explained.has(boneIndex)).toBe(false);
    expect(
      [ARM, SHIN].every((name) =>
        Object.values(match.assignments).some(({ boneIndex }) => bones[boneIndex].name === name),
      ),
    ).toBe(true);
  });
});
