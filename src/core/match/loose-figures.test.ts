import { describe, expect, it } from 'vitest';
import { biped, both } from '../../../tests/helpers/named-biped';
import { makeRig, type PlainBone } from '../../../tests/helpers/rig-maker';
import { QUAY } from '../definition/quay';
import { matchBones } from './match-bones';

/** Role -> name of its bone, and what kind of creature it is. */
function read(bones: readonly PlainBone[]) {
  const rig = makeRig(bones, true);
  const { assignments, creature } = matchBones(rig, QUAY);
  const bone = (role: string) => (assignments[role] ? rig.bones[assignments[role].boneIndex].name : null);
  return { bone, creature };
}
const cut = (bones: readonly PlainBone[], names: readonly string[]): PlainBone[] =>
  bones.map((bone) => (names.includes(bone.name) ? { ...bone, parent: null } : bone));
const without = (bones: readonly PlainBone[], names: RegExp): PlainBone[] =>
  bones.filter(({ name }) => !names.test(name));

describe('figures in pieces', () => {
  it('a trunk and a head of one bone each lead limbs that are trees of their own', () => {
    const pieces: PlainBone[] = [
      { name: 'body', parent: null, position: [0, 1, 0] },
      { name: 'head', parent: null, position: [0, 1.56, 0] },
      ...both('shoulder', 'body', [0.04, 1.42, 0]),
      ...both('arm', 'shoulder_*', [0.17, 1.42, 0]),
      ...both('forearm', 'arm_*', [0.44, 1.42, 0]),
      ...both('hand', 'forearm_*', [0.68, 1.42, 0]),
      ...both('thigh', 'body', [0.09, 0.92, 0]),
      ...both('shin', 'thigh_*', [0.09, 0.5, 0.01]),
      ...both('foot', 'shin_*', [0.09, 0.09, -0.02]),
    ];
    const tops = ['shoulder_l', 'shoulder_r', 'thigh_l', 'thigh_r'];
    const { bone, creature } = read(cut(pieces, tops));
    expect(creature.isHumanoid).toBe(true);
    expect(
      ['hips', 'head', 'leftUpperArm', 'rightHand', 'leftFoot', 'rightLowerLeg'].map((role) => bone(role)),
    ).toEqual(['body', 'head', 'arm_l', 'hand_r', 'foot_l', 'shin_r']);
  });

  it('in a rig without parents a thing beside the body leads no part of it', () => {
    const thing: PlainBone[] = [
      { name: 'barrow', parent: null, position: [0, 0.6, 0.5] },
      { name: 'barrow_wheel', parent: null, position: [0, 0.3, 0.6] },
    ];
    const flat = [...biped(), ...thing].map((bone) => ({ ...bone, parent: null }));
    const { bone } = read(flat);
    const roles = ['spine', 'neck', 'leftUpperArm', 'leftLowerArm', 'rightHand', 'rightLowerLeg', 'leftFoot'];
    expect(roles.map((role) => bone(role))).toEqual([
      'spine',
      'neck',
      'upper_arm_l',
      'forearm_l',
      'hand_r',
      'shin_r',
      'foot_l',
    ]);
  });

  it('a neck that nothing goes on from is the head of a figure that has none', () => {
    const { bone, creature } = read(without(biped(), /^(head|toes|hand|foot)/));
    expect(creature.isHumanoid).toBe(true);
    expect(bone('head')).toBe('neck');
    // With a head it stays what it is called.
    expect(read(biped()).bone('neck')).toBe('neck');
  });

  it('digits under a target that stands where the hand does belong to the hand', () => {
    const fingers = ['thumb', 'index', 'middle'].flatMap((name, at) => [
      ...both(`${name}_1`, 'goal_*', [0.74, 1.42, 0.04 - 0.03 * at]),
      ...both(`${name}_2`, `${name}_1_*`, [0.79, 1.42, 0.05 - 0.03 * at]),
      ...both(`${name}_3`, `${name}_2_*`, [0.83, 1.42, 0.06 - 0.03 * at]),
    ]);
    const { bone } = read(biped([...both('goal', 'spine', [0.68, 1.42, -0.01]), ...fingers]));
    expect(['leftHand', 'leftIndexProximal', 'rightMiddleDistal'].map((role) => bone(role))).toEqual([
      'hand_l',
      'index_1_l',
      'middle_3_r',
    ]);
  });

  it('six legs that leave one bone are no figure, whatever hangs on it', () => {
    const legs = [0, 1, 2].flatMap((at) => [
      ...both(`leg${at}`, 'core', [0.1, 1, 0.3 * (at - 1)]),
      ...both(`leg${at}_shin`, `leg${at}_*`, [0.5, 1.2, 0.4 * (at - 1)]),
      ...both(`leg${at}_tip`, `leg${at}_shin_*`, [0.8, 0, 0.5 * (at - 1)]),
    ]);
    const machine: PlainBone[] = [
      { name: 'core', parent: null, position: [0, 1, 0] },
      { name: 'turret', parent: 'core', position: [0, 1.3, 0] },
      ...legs,
    ];
    expect(read(machine).creature.isHumanoid).toBe(false);
  });
});

describe('numbers of digits', () => {
  const hand = (names: readonly (readonly string[])[]): PlainBone[] =>
    biped(
      names.flatMap((chain, at) =>
        chain.flatMap((name, step) =>
          both(name, step === 0 ? 'hand_*' : `${chain[step - 1]}_*`, [
            0.77 + 0.035 * step - (at === 0 ? 0.05 : 0),
            1.42,
            (at === 0 ? 0.06 : 0.05) - 0.02 * at,
          ]),
        ),
      ),
    );
  const counted = (finger: string, from: number, to: number) =>
    Array.from({ length: to - from + 1 }, (_, at) => `${finger}_${from + at}`);

  it('beside a thumb that is called one the lowest number is the index', () => {
    const { bone } = read(hand([counted('thumb', 1, 3), ...[1, 2, 3].map((at) => counted(`finger${at}`, 1, 3))]));
    expect(['leftIndexProximal', 'leftMiddleProximal', 'leftRingProximal'].map((role) => bone(role))).toEqual([
      'finger1_1_l',
      'finger2_1_l',
      'finger3_1_l',
    ]);
  });

  it('a bone counted as 0 before three others is the palm', () => {
    const { bone } = read(hand([counted('thumb', 1, 3), counted('index', 1, 3), counted('little', 0, 3)]));
    expect(bone('leftLittleProximal')).toBe('little_1_l');
    expect(bone('leftIndexProximal')).toBe('index_1_l');
  });

  it('halves of a segment are one segment', () => {
    const halves = (finger: string) => [1, 2, 3].flatMap((at) => [`${finger}_${at}_1`, `${finger}_${at}_2`]);
    const { bone } = read(hand([counted('thumb', 1, 3), halves('index'), halves('middle')]));
    expect(['Proximal', 'Intermediate', 'Distal'].map((at) => bone(`leftIndex${at}`))).toEqual([
      'index_1_1_l',
      'index_2_1_l',
      'index_3_1_l',
    ]);
  });
});
