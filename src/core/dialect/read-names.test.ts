import { describe, expect, it } from 'vitest';
import { shippedDialect } from './dialect';
import { readNames } from './read-names';
import { tokenise } from './tokenise';

const read = (...names: string[]) => readNames(names, shippedDialect()).bones;
const strongest = (name: string) => Object.entries(read(name)[0].body).sort((a, b) => b[1] - a[1])[0]?.[0];

describe('tokenise', () => {
  it.each([
    ['gtLeftArm_01', ['gt', 'left', 'arm', '01']],
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
    ['UpLeg', 'upperLeg'],
    ['upper_arm', 'upperArm'],
    ['arm_upper', 'upperArm'],
    ['ForeArm', 'lowerArm'],
    ['Calf', 'lowerLeg'],
    ['Oberschenkel', 'upperLeg'],
    ['Unterarm', 'lowerArm'],
    ['avantbras', 'lowerArm'],
    ['muslo', 'upperLeg'],
    ['coscia', 'upperLeg'],
    ['przedramie', 'lowerArm'],
    ['antebraço', 'lowerArm'],
    ['前腕', 'lowerArm'],
    ['hiza', 'lowerLeg'],
    ['大腿', 'upperLeg'],
    ['qianbi', 'lowerArm'],
    ['humerus', 'upperArm'],
    ['femur', 'upperLeg'],
    ['HÃ¼fte', 'hips'],
    ['shouldr', 'shoulder'],
    ['clavcle', 'shoulder'],
  ])('reads %s as %s', (name, concept) => {
    expect(strongest(name)).toBe(concept);
  });

  it.each([
    ['Left_Arm', 'left'],
    ['arm.L', 'left'],
    ['rArm', 'right'],
    ['RightUpLeg', 'right'],
    ['Arm_R_01', 'right'],
    ['左腕', 'left'],
    ['braccio sx', 'left'],
    ['larm', 'left'],
    ['Schulter_rechts', 'right'],
  ])('finds the side of %s', (name, side) => {
    expect(read(name)[0].side).toBe(side);
  });

  it('takes single letters for sides only where the rig shows them in pairs', () => {
    const pairs = ['bras', 'jambe', 'main', 'pied'].flatMap((part) => [`${part}_g`, `${part}_d`]);
    expect(read(...pairs).map((reading) => reading.side)).toEqual(
      pairs.map((name) => (name.endsWith('g') ? 'left' : 'right')),
    );
    expect(read('bone_g', 'bone_a', 'thing_d')[0].side).toBeNull();
  });

  it('does not take a prefix on every bone for a side', () => {
    const names = ['hips', 'spine', 'head', 'l_arm', 'r_arm', 'l_leg', 'r_leg'].map((name) => `lt_${name}`);
    expect(read(...names).map((reading) => reading.side)).toEqual([null, null, null, 'left', 'right', 'left', 'right']);
  });

  it('learns the prefix from the rig and says how long it is', () => {
    const { prefixLengths } = readNames(
      ['bf_hip', 'bf_arm.l', 'bf_arm.r', 'bf_leg.l', 'bf_leg.r', 'bf_head'],
      shippedDialect(),
    );
    expect(prefixLengths).toEqual([3, 3, 3, 3, 3, 3]);
  });

  it('marks what is no role', () => {
    expect(read('foot_ik')[0].other).toHaveProperty('control');
    expect(read('forearm_twist_01')[0].other).toHaveProperty('twist');
    expect(read('Head_End')[0].other).toHaveProperty('tip');
    expect(read('skirt_a1')[0].other).toHaveProperty('cloth');
    expect(read('toe_index_1')[0].other).toHaveProperty('toeDigit');
  });

  it('gives the two bones of a pair one key', () => {
    const [left, right] = read('Arm_L_02', 'Arm_R_02');
    expect(left.pairKey).toBe(right.pairKey);
  });

  it('takes no common word for a misspelt one, and finds a misspelt one all the same', () => {
    const silent = [
      'arm_joint',
      'node',
      'group',
      'frame',
      'round',
      'metal',
      'short',
      'drive',
      'truck',
      'print',
      'metre',
    ].map((name) => read(name)[0]);
    expect(silent.map(({ body, other }) => ({ body, other }))).toEqual(
      silent.map((_reading, at) => ({ body: at === 0 ? read('arm')[0].body : {}, other: {} })),
    );
    expect(['spyne', 'thihg', 'elbwo', 'ankel', 'shouler'].map(strongest)).toEqual([
      'spine',
      'upperLeg',
      'lowerArm',
      'foot',
      'shoulder',
    ]);
  });

  it('leaves numbers that run through all bones aside, and keeps those that count segments', () => {
    const parts = ['hips', 'spine1', 'spine2', 'head', 'arm_l', 'arm_r', 'leg_l', 'leg_r'];
    const numbers = (names: readonly string[]) =>
      readNames(names, shippedDialect()).bones.map((reading) => reading.numbers.join());
    expect(numbers(parts.map((part, at) => `${part}_${String(at).padStart(3, '0')}`))).toEqual([
      '',
      '1',
      '2',
      '',
      '',
      '',
      '',
      '',
    ]);
    expect(numbers(parts)).toEqual(['', '1', '2', '', '', '', '', '']);
    // The same number twice, or a number on some only, counts something.
    expect(numbers(parts.map((part) => `${part}_1`))).toEqual(['1', '1,1', '2,1', '1', '1', '1', '1', '1']);
  });

  it('lets one numbered word for the whole trunk mean the parts that have no word', () => {
    const run = ['spine', 'spine_1', 'spine_2', 'spine_3', 'spine_4'];
    const parts = (names: readonly string[]) =>
      Object.keys(
        readNames([...names, 'arm_l', 'arm_r', 'leg_l', 'leg_r', 'hand_l', 'hand_r'], shippedDialect()).bones[1].body,
      ).sort();
    expect(parts(run)).toEqual(['head', 'hips', 'neck', 'spine']);
    expect(parts([...run, 'head'])).toEqual(['neck', 'spine']);
    expect(parts([...run, 'pelvis'])).toEqual(['head', 'neck', 'spine']);
    expect(parts([...run, 'neck', 'head'])).toEqual(['spine']);
    expect(parts(run.slice(0, 4))).toEqual(['spine']);
    // A head that is only an end bone is no head.
    expect(parts([...run, 'head_end'])).toEqual(['head', 'hips', 'neck', 'spine']);
  });

  it('knows a name with words more that say nothing for a variant of the plain one', () => {
    const variants = (...names: string[]) => read(...names).map(({ isVariant }) => isVariant);
    expect(variants('arm_l', 'arm_zq_l', 'arm_zq_wv_l', 'arm_r')).toEqual([false, true, true, false]);
    expect(variants('arm_zq_l', 'arm_wv_l')).toEqual([false, false]);
    expect(variants('arm_zq_l', 'arm_zq_wv_l')).toEqual([false, true]);
    // Another side, another number or another part is another bone.
    expect(variants('arm_r', 'arm_zq_l')).toEqual([false, false]);
    expect(variants('arm_1_l', 'arm_2_zq_l')).toEqual([false, false]);
    expect(variants('leg_l', 'arm_zq_l')).toEqual([false, false]);
  });
});
