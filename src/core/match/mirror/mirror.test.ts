import { describe, expect, it } from 'vitest';
import { shippedDialect } from '../../dialect/dialect';
import { readNames } from '../../dialect/read-names';
import { computeRigShape } from '../../rig/rig-shape';
import { makeRig, type PlainBone } from '../../../../tests/helpers/rig-maker';
import { findMirror } from './mirror';

const sides = [
  ['l', 1],
  ['r', -1],
] as const;
const mirrorOf = (bones: readonly PlainBone[], named: boolean) => {
  const rig = makeRig(bones);
  const shape = computeRigShape(rig);
  return findMirror(
    shape,
    readNames(
      rig.bones.map((bone) => (named ? bone.name : '')),
      shippedDialect(),
      shape.parents,
    ),
  );
};

/** Two arms and two legs; `stride` moves the left ones forward and the right ones back. */
function figure(stride = 0): PlainBone[] {
  const bones: PlainBone[] = [
    { name: 'hips', parent: null, position: [0, 1, 0] },
    { name: 'chest', parent: 'hips', position: [0, 1.4, 0] },
  ];
  for (const [side, k] of sides) {
    const step = stride * k;
    bones.push(
      { name: `thigh_${side}`, parent: 'hips', position: [0.1 * k, 0.95, 0] },
      { name: `shin_${side}`, parent: `thigh_${side}`, position: [0.1 * k, 0.52, 0.4 * step] },
      { name: `foot_${side}`, parent: `shin_${side}`, position: [0.1 * k, 0.1, 0.8 * step] },
      { name: `arm_${side}`, parent: 'chest', position: [0.2 * k, 1.4, 0] },
      { name: `forearm_${side}`, parent: `arm_${side}`, position: [0.22 * k, 1.1, -0.3 * step] },
      { name: `hand_${side}`, parent: `forearm_${side}`, position: [0.22 * k, 0.85, -0.5 * step] },
    );
  }
  return bones;
}

/** Bone index of the partner that each bone should have, from its name. */
const expected = (bones: readonly PlainBone[]): number[] =>
  bones.map((bone, at) => {
    const other = bone.name.replace(/_(l|r)$/, (_, side: string) => (side === 'l' ? '_r' : '_l'));
    return other === bone.name ? at : bones.findIndex((candidate) => candidate.name === other);
  });

describe('mirror pairs', () => {
  it.each([
    [true, 0],
    [false, 0],
    [true, 0.6],
    [false, 0.6],
  ])('are found by name (%s) in a stride of %d', (named, stride) => {
    const bones = figure(stride);
    const mirror = mirrorOf(bones, named);
    expect([...mirror.partners]).toEqual(expected(bones));
    expect(Math.abs(mirror.normal[0])).toBeGreaterThan(0.999);
  });

  it('have opposite distances from the plane, and the trunk none', () => {
    const bones = figure();
    const { lateral } = mirrorOf(bones, false);
    expect(lateral[0]).toBeCloseTo(0, 9);
    expect(lateral[bones.findIndex((bone) => bone.name === 'hand_l')]).toBeCloseTo(
      -lateral[bones.findIndex((bone) => bone.name === 'hand_r')],
      9,
    );
  });

  it('keep the plane when one side carries more bones than the other', () => {
    const extra: PlainBone[] = [1, 2, 3, 4].map((at) => ({
      name: `charm${at}`,
      parent: at === 1 ? 'hand_l' : `charm${at - 1}`,
      position: [0.22, 0.85 - at * 0.05, 0.05],
    }));
    const bones = [...figure(), ...extra];
    const mirror = mirrorOf(bones, false);
    expect(Math.abs(mirror.normal[0])).toBeGreaterThan(0.999);
    expect(mirror.partners[bones.findIndex((bone) => bone.name === 'thigh_l')]).toBe(
      bones.findIndex((bone) => bone.name === 'thigh_r'),
    );
  });

  it.each([0.1, 0.5, 1.2])('follow a bare hand that holds something %d m long, in a stride', (length) => {
    const bones: PlainBone[] = [
      ...figure(0.6),
      { name: 'boathook', parent: 'hand_r', position: [-0.22, 0.85 - length, 0.4] },
    ];
    const mirror = mirrorOf(bones, false);
    expect([...mirror.partners].slice(0, -1)).toEqual(expected(bones).slice(0, -1));
    expect(mirror.partners[bones.length - 1]).toBe(-1);
  });

  it('do not join segments of different lengths below partners', () => {
    const bones: PlainBone[] = [
      ...figure(0.6),
      { name: 'strap_of_left', parent: 'hand_l', position: [0.22, 0.6, 0] },
      { name: 'boathook', parent: 'hand_r', position: [-0.22, 0.2, 0.4] },
    ];
    expect([...mirrorOf(bones, false).partners].slice(-2)).toEqual([-1, -1]);
  });

  it('do not join two bones that both say left', () => {
    const bones = figure().map((bone) => ({
      ...bone,
      name: bone.name.replace('hand_r', 'hand_l2_l'),
      parent: bone.parent,
    }));
    const mirror = mirrorOf(bones, true);
    const [a, b] = [
      bones.findIndex((bone) => bone.name === 'hand_l'),
      bones.findIndex((bone) => bone.name === 'hand_l2_l'),
    ];
    expect(mirror.partners[a]).not.toBe(b);
  });

  it('join no two bones of one side, and none that lies in the middle, below a bone of the trunk', () => {
    const row = [0.08, 0.05, 0, -0.05, -0.08].map((x): PlainBone => ({
      name: `bead${x}`,
      parent: 'chest',
      position: [x, 1.2, 0.1],
    }));
    const bones = [...figure(), ...row];
    const { partners } = mirrorOf(bones, false);
    const first = figure().length;
    expect([...partners].slice(first)).toEqual([first + 4, first + 3, first + 2, first + 1, first]);
  });

  it('join bones that stand without a parent, where the body is in pieces', () => {
    const bones = figure().map((bone) => (/^(thigh|arm)_/.test(bone.name) ? { ...bone, parent: null } : bone));
    expect([...mirrorOf(bones, false).partners]).toEqual(expected(bones));
  });

  it('join each bone once: of three alike the one nearest to the mirrored place', () => {
    const bones: PlainBone[] = [
      ...figure(),
      { name: 'lamp_l', parent: 'chest', position: [0.1, 1.2, 0.1] },
      { name: 'low_r', parent: 'chest', position: [-0.1, 1.16, 0.1] },
      { name: 'lamp_r', parent: 'chest', position: [-0.1, 1.2, 0.1] },
    ];
    const { partners } = mirrorOf(bones, false);
    const at = figure().length;
    expect([partners[at], partners[at + 2]]).toEqual([at + 2, at]);
    expect([at, at + 2]).not.toContain(partners[at + 1]);
  });
});
