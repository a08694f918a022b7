import { describe, expect, it } from 'vitest';
import { shippedDialect } from './dialect';
import { readNames } from './read-names';
import { tokenise } from './tokenise';

const read = (...names: string[]) => readNames(names, shippedDialect()).bones;
const strongest = (name: string) => Object.entries(read(name)[0].body).sort((a, b) => b[1] - a[1])[0]?.[0];

describe('tokenise', () => {
  it.each([
    ['mixLeftArm_01', ['mix', 'left', 'arm', '01']],
    ['IKTarget.L', ['ik', 'target', 'l']],
    ['upper arm-wring.r', ['upper', 'arm', 'wring', 'r']],
    ['左腕1', ['左腕', '1']],
    ['Ａｒｍ＿Ｌ', ['arm', 'l']],
  ])('splits %s', (name, texts) => {
    expect(tokenise(name).map((token) => token.text)).toEqual(texts);
  });

  it('finds each token where it stands in the name', () => {
    expect(tokenise('bf_Arm01').map((token) => token.start)).toEqual([0, 3, 6]);
  });
});

describe('readNames', () => {
  it.each([
    ['UpLeg', 'upperLeg'], ['upper_arm', 'upperArm'], ['arm_upper', 'upperArm'], ['ForeArm', 'lowerArm'], ['Calf', 'lowerLeg'],
    ['Oberschenkel', 'upperLeg'], ['Unterarm', 'lowerArm'], ['avantbras', 'lowerArm'], ['muslo', 'upperLeg'], ['coscia', 'upperLeg'],
    ['przedramie', 'lowerArm'], ['antebraço', 'lowerArm'], ['前腕', 'lowerArm'], ['hiza', 'lowerLeg'], ['大腿', 'upperLeg'], ['qianbi', 'lowerArm'],
    ['humerus', 'upperArm'], ['femur', 'upperLeg'], ['HÃ¼fte', 'hips'], ['shouldr', 'shoulder'], ['clavcle', 'shoulder'],
  ])('reads %s as %s', (name, concept) => {
    expect(strongest(name)).toBe(concept);
  });

  it.each([
    ['Left_Arm', 'left'], ['arm.L', 'left'], ['rArm', 'right'], ['RightUpLeg', 'right'], ['Arm_R_01', 'right'], ['左腕', 'left'], ['braccio sx', 'left'], ['larm', 'left'], ['Schulter_rechts', 'right'],
  ])('finds the side of %s', (name, side) => {
    expect(read(name)[0].side).toBe(side);
  });

  it('takes single letters for sides only where the rig shows them in pairs', () => {
    const pairs = ['bras', 'jambe', 'main', 'pied'].flatMap((part) => [`${part}_g`, `${part}_d`]);
    expect(read(...pairs).map((reading) => reading.side)).toEqual(pairs.map((name) => (name.endsWith('g') ? 'left' : 'right')));
    expect(read('bone_g', 'bone_a', 'thing_d')[0].side).toBeNull();
  });

  it('does not take a prefix on every bone for a side', () => {
    const names = ['hips', 'spine', 'head', 'l_arm', 'r_arm', 'l_leg', 'r_leg'].map((name) => `lt_${name}`);
    expect(read(...names).map((reading) => reading.side)).toEqual([null, null, null, 'left', 'right', 'left', 'right']);
  });

  it('learns the prefix from the rig and says how long it is', () => {
    const { prefixLengths } = readNames(['bf_hip', 'bf_arm.l', 'bf_arm.r', 'bf_leg.l', 'bf_leg.r', 'bf_head'], shippedDialect());
    expect(prefixLengths).toEqual([3, 3, 3, 3, 3, 3]);
  });

  it('marks what is no role', () => {
    expect(read('foot_ik')[0].other).toHaveProperty('anchor');
    expect(read('forearm_twist_01')[0].other).toHaveProperty('twist');
    expect(read('Head_End')[0].other).toHaveProperty('tip');
    expect(read('skirt_a1')[0].other).toHaveProperty('cloth');
    expect(read('toe_index_1')[0].other).toHaveProperty('toeDigit');
  });

  it('gives the two bones of a pair one key', () => {
    const [left, right] = read('Arm_L_02', 'Arm_R_02');
    expect(left.pairKey).toBe(right.pairKey);
  });
});
