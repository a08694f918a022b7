import { describe, expect, it } from 'vitest';
import { shippedDialect } from './dialect';
import { readNames } from './read-names';

const read = (names: readonly string[]) =>
  readNames(
    names,
    shippedDialect(),
    names.map(() => -1),
  ).bones;
/** Most likely part of the body, with the side where the name marks one. */
const meaning = (names: readonly string[]): string[] =>
  read(names).map(({ body, side }) => {
    const [best] = Object.entries(body).sort((a, b) => b[1] - a[1]);
    return `${side ? `${side} ` : ''}${best?.[0] ?? 'nothing'}`;
  });

const LIMBS = [
  'left upperArm',
  'right upperArm',
  'left hand',
  'right hand',
  'left upperLeg',
  'right upperLeg',
  'left foot',
  'right foot',
];

describe('side marks and limbs', () => {
  it.each([
    [
      'English',
      [
        'left_upper_arm',
        'right_upper_arm',
        'left_hand',
        'right_hand',
        'left_thigh',
        'right_thigh',
        'left_foot',
        'right_foot',
      ],
    ],
    ['English, joined', ['UpperArmL', 'UpperArmR', 'HandL', 'HandR', 'ThighL', 'ThighR', 'FootL', 'FootR']],
    [
      'German',
      [
        'Oberarm_links',
        'Oberarm_rechts',
        'Hand_links',
        'Hand_rechts',
        'Oberschenkel_links',
        'Oberschenkel_rechts',
        'Fuß_links',
        'Fuß_rechts',
      ],
    ],
    ['French', ['Bras_G', 'Bras_D', 'Main_G', 'Main_D', 'Cuisse_G', 'Cuisse_D', 'Pied_G', 'Pied_D']],
    [
      'Spanish',
      [
        'brazo_izquierdo',
        'brazo_derecho',
        'mano_izquierda',
        'mano_derecha',
        'muslo_izquierdo',
        'muslo_derecho',
        'pie_izquierdo',
        'pie_derecho',
      ],
    ],
    ['Japanese', ['左腕', '右腕', '左手首', '右手首', '左足', '右足', '左足首', '右足首']],
    ['anatomy', ['humerus.l', 'humerus.r', 'manus.l', 'manus.r', 'femur.l', 'femur.r', 'pes.l', 'pes.r']],
  ])('in %s', (_, names) => {
    expect(meaning(names)).toEqual(LIMBS);
  });

  it('stand where they like: before, in the middle, after, glued', () => {
    expect(
      meaning(['l_hand', 'r_hand', 'arm_l_upper', 'arm_r_upper', 'foot.L', 'foot.R', 'leftKnee', 'rightKnee']).map(
        (text) => text.split(' ')[0],
      ),
    ).toEqual(['left', 'right', 'left', 'right', 'left', 'right', 'left', 'right']);
  });

  it('a letter that is no mark is none: it needs its counterpart', () => {
    expect(read(['g_spine', 'g_chest', 'g_neck', 'g_head']).map(({ side }) => side)).toEqual([null, null, null, null]);
  });
});

describe('prefixes', () => {
  it('are learned from the names that share them, whatever they are, and not from a few', () => {
    const stems = ['hips', 'spine', 'chest', 'neck', 'head', 'left_hand', 'right_hand', 'left_foot', 'right_foot'];
    for (const prefix of ['wharf:', 'Tide01_', 'zz-']) {
      const { prefixLengths } = readNames(
        stems.map((stem) => prefix + stem),
        shippedDialect(),
        stems.map(() => -1),
      );
      expect(new Set(prefixLengths)).toEqual(new Set([prefix.length]));
    }
    const mixed = readNames(
      [...stems, 'wharf:rope', 'wharf:bell'],
      shippedDialect(),
      [...stems, '', ''].map(() => -1),
    );
    expect(mixed.prefixLengths.slice(0, stems.length)).toEqual(stems.map(() => 0));
  });

  it('do not change what a name means', () => {
    const names = ['hips', 'spine', 'chest', 'neck', 'head', 'left_hand', 'right_hand', 'left_foot', 'right_foot'];
    expect(meaning(names.map((name) => `harbour_rig_${name}`))).toEqual(meaning(names));
  });
});

describe('words', () => {
  it('are found through a typing error, a broken umlaut and other cases', () => {
    expect(meaning(['shouldr_l', 'shouldr_r', 'HÃ¼fte', 'FOREARM_L', 'FOREARM_R', 'spyne'])).toEqual([
      'left shoulder',
      'right shoulder',
      'hips',
      'left lowerArm',
      'right lowerArm',
      'spine',
    ]);
  });

  it('that are short are not: a band is no hand', () => {
    expect(meaning(['band', 'noes'])).toEqual(['nothing', 'nothing']);
  });

  it('of something else than the body are kept apart', () => {
    const [twist, tip, cloth, target] = read(['forearm_twist', 'head_end', 'skirt_03', 'hand_ik_target']).map(
      ({ other }) => other,
    );
    expect(twist.twist).toBeGreaterThan(0.7);
    expect(tip.tip).toBeGreaterThan(0.7);
    expect(cloth.cloth).toBeGreaterThan(0.7);
    expect(target.control).toBeGreaterThan(0.7);
  });
});
