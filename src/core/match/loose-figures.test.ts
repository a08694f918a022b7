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

  it('named digits on a control away from the hand go to the only hand of their side', () => {
    const fingers = ['thumb', 'index', 'middle'].flatMap((name, at) => [
      ...both(`${name}_1`, 'goal_*', [0.74, 1.42, 0.04 - 0.03 * at]),
      ...both(`${name}_2`, `${name}_1_*`, [0.79, 1.42, 0.05 - 0.03 * at]),
      ...both(`${name}_3`, `${name}_2_*`, [0.83, 1.42, 0.06 - 0.03 * at]),
    ]);
    const { bone } = read(biped([...both('goal', 'spine', [0.5, 1.8, 0.2]), ...fingers]));
    expect(['leftIndexProximal', 'rightMiddleDistal'].map((role) => bone(role))).toEqual(['index_1_l', 'middle_3_r']);
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

/** The same without a word: answers are given by the names that the bones had. */
function readNameless(bones: readonly PlainBone[], skin = true) {
  const rig = makeRig(bones, skin);
  const silent = { ...rig, bones: rig.bones.map((each) => ({ ...each, name: `q${each.index}`, isNamed: false })) };
  const match = matchBones(silent, QUAY);
  const bone = (role: string) => (match.assignments[role] ? rig.bones[match.assignments[role].boneIndex].name : null);
  return { ...match, bone };
}

describe('figures without a word', () => {
  const toy = (parent: string | null): PlainBone[] => [
    { name: 'body', parent: null, position: [0, 0.9, 0] },
    { name: 'head', parent: 'body', position: [0, 1.5, 0] },
    ...both('arm', 'body', [0.2, 1.4, 0]).map((bone) => ({ ...bone, parent })),
    ...both('forearm', 'arm_*', [0.45, 1.4, 0]),
    ...both('hand', 'forearm_*', [0.7, 1.4, 0]).map((bone) => ({ ...bone, parent })),
    ...both('leg', 'body', [0.12, 0.85, 0]).map((bone) => ({ ...bone, parent })),
  ];

  it('a toy with one bone a leg and loose hands is a figure; its sides are in doubt', () => {
    for (const parent of [null, 'body']) {
      const { bone, creature, assignments } = readNameless(toy(parent));
      expect(creature.isHumanoid).toBe(true);
      expect([bone('hips'), bone('head')]).toEqual(['body', 'head']);
      expect([bone('leftUpperLeg'), bone('rightUpperLeg')].sort()).toEqual(['leg_l', 'leg_r']);
      expect([bone('leftHand'), bone('rightHand')].sort()).toEqual(['hand_l', 'hand_r']);
      for (const role of ['leftUpperLeg', 'rightUpperArm', 'leftHand'])
        expect(assignments[role].state).toBe('doubtful');
    }
  });

  it('limbs that start side by side in the middle are limbs, not what leads to them', () => {
    const pieces: PlainBone[] = [
      { name: 'body', parent: null, position: [0, 1.38, 0] },
      { name: 'head', parent: null, position: [0, 1.6, 0] },
      ...both('leg', 'body', [0.006, 0.87, 0]),
      ...both('shin', 'leg_*', [0.145, 0.43, 0.02]),
      ...both('foot', 'shin_*', [0.16, 0.02, 0]),
      ...both('toes', 'foot_*', [0.16, 0, 0.12]),
      ...both('shoulder', 'body', [0.009, 1.31, 0]),
      ...both('arm', 'shoulder_*', [0.16, 1.28, 0]),
      ...both('forearm', 'arm_*', [0.35, 1.08, 0]),
      ...both('hand', 'forearm_*', [0.54, 0.92, 0]),
    ];
    const { bone } = readNameless(cut(pieces, ['leg_l', 'leg_r', 'shoulder_l', 'shoulder_r']));
    expect(
      ['leftUpperLeg', 'leftLowerLeg', 'rightFoot', 'leftUpperArm', 'rightHand'].map((role) => bone(role)),
    ).toEqual(['leg_l', 'shin_l', 'foot_r', 'arm_l', 'hand_r']);
  });

  it('feet under the root go to the shins that lead to them', () => {
    const bones = biped().map((each) =>
      /^foot_/.test(each.name)
        ? { ...each, parent: 'root' }
        : each.name === 'hips'
          ? { ...each, parent: 'root' }
          : each,
    );
    const rooted: PlainBone[] = [{ name: 'root', parent: null, position: [0, 0, 0] }, ...bones];
    const rig = makeRig(rooted, true);
    const silent = rig.bones.map((each) => ({
      ...each,
      name: `q${each.index}`,
      isNamed: false,
      skinWeight: each.index === 0 ? 0 : each.skinWeight,
    }));
    const { assignments } = matchBones({ ...rig, bones: silent }, QUAY);
    const name = (role: string) => rig.bones[assignments[role]?.boneIndex ?? 0].name;
    expect([name('leftFoot'), name('rightFoot')].sort()).toEqual(['foot_l', 'foot_r']);
  });

  it('palm bones that share a joint are told from knuckles', () => {
    const palms: readonly (readonly [string, number, number])[] = [
      ['index', 0.03, 0],
      ['middle', 0.03, 0.012],
      ['ring', -0.01, 0.024],
      ['little', -0.01, 0.036],
    ];
    const fingers = palms.flatMap(([name, start, aside]) => [
      ...both(`${name}_0`, 'hand_*', [0.71, 1.42, start]),
      ...both(`${name}_1`, `${name}_0_*`, [0.78, 1.42, 0.03 - aside]),
      ...both(`${name}_2`, `${name}_1_*`, [0.81, 1.42, 0.03 - aside]),
      ...both(`${name}_3`, `${name}_2_*`, [0.83, 1.42, 0.03 - aside]),
    ]);
    const thumb = [
      ...both('thumb_1', 'hand_*', [0.71, 1.41, 0.04]),
      ...both('thumb_2', 'thumb_1_*', [0.73, 1.4, 0.07]),
      ...both('thumb_3', 'thumb_2_*', [0.75, 1.39, 0.09]),
    ];
    const { bone } = readNameless(biped([...thumb, ...fingers]));
    expect(
      ['leftIndexProximal', 'leftMiddleProximal', 'leftRingDistal', 'leftLittleProximal'].map((role) => bone(role)),
    ).toEqual(['index_1_l', 'middle_1_l', 'ring_3_l', 'little_1_l']);
  });

  it('halves of phalanges are told by their lengths alone', () => {
    const lengths = [0.05, 0.05, 0.035, 0.035, 0.02];
    const finger = (name: string, z: number) =>
      lengths.flatMap((_, at) =>
        both(`${name}_${at}`, at === 0 ? 'hand_*' : `${name}_${at - 1}_*`, [
          0.76 + lengths.slice(0, at).reduce((sum, length) => sum + length, 0),
          1.42,
          z,
        ]),
      );
    const { bone } = readNameless(
      biped(['thumb', 'index', 'middle', 'ring'].flatMap((name, at) => finger(name, 0.05 - 0.025 * at))),
    );
    expect(
      ['Proximal', 'Intermediate', 'Distal'].map((segment) => bone(`leftMiddle${segment}`)?.replace(/_l$/, '')),
    ).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/_0$/),
        expect.stringMatching(/_2$/),
        expect.stringMatching(/_4$/),
      ]),
    );
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

  it('a last segment that is whole does not undo the halves before it', () => {
    const halves = (finger: string) => [
      ...[1, 2].flatMap((at) => [`${finger}_${at}_1`, `${finger}_${at}_2`]),
      `${finger}_3`,
    ];
    const { bone } = read(hand([counted('thumb', 1, 3), halves('index'), halves('middle')]));
    expect(['Proximal', 'Intermediate', 'Distal'].map((at) => bone(`leftMiddle${at}`))).toEqual([
      'middle_1_1_l',
      'middle_2_1_l',
      'middle_3_l',
    ]);
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
