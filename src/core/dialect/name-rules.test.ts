import { describe, expect, it } from 'vitest';
import { compileDialect as compile, shippedDialect } from './dialect';
import { SHIPPED_DIALECT, type DialectData } from './dialect-data';
import { readNames } from './read-names';
import { foldText, repairMojibake, tokenise } from './tokenise';

const compileDialect = (lists: DialectData['lists']) => compile({ ...SHIPPED_DIALECT, lists });

/** A studio's own word list, so that the rules show apart from the shipped words. */
const DIALECT = compileDialect([
  {
    language: 'Gullish',
    entries: [
      ['korbel', { hips: 1, spine: 0.4 }],
      ['mastik', { spine: 1 }],
      ['krona', { head: 1 }],
      ['flosse', { upperArm: 0.6, lowerArm: 0.5, shoulder: 0.4 }],
      ['stelze', { upperLeg: 0.7, lowerLeg: 0.6 }],
      ['faust', { hand: 1 }],
      ['faustring', { lowerArm: 0.9 }],
      ['ring', { ring: 1 }],
      ['zapfen', { finger: 1, index: 0.5, middle: 0.5 }],
      ['dumpel', { thumb: 1 }],
      ['halbdaum', { thumb: 0.6 }],
      ['zehling', { toes: 1 }],
      ['boden', { root: 1 }],
      ['drehsel', { twist: 1 }],
      ['haken', { control: 0.8, prop: 0.3 }],
    ],
  },
]);
const readAll = (names: readonly string[], parents?: readonly number[]) => readNames(names, DIALECT, parents);
const read = (name: string) => readAll([name]).bones[0];

describe('what one name says', () => {
  it.each([
    // A longer phrase wins over the words in it, with or without separators.
    ['faust_ring', { lowerArm: 0.9 }, {}, ['faustring']],
    ['Faust.Ring', { lowerArm: 0.9 }, {}, ['faustring']],
    ['faustring', { lowerArm: 0.9 }, {}, ['faustring']],
    // Words of one name add up, each concept at its strongest.
    ['korbel', { hips: 1, spine: 0.4 }, {}, ['korbel']],
    ['krona_drehsel', { head: 1 }, { twist: 1 }, ['krona', 'drehsel']],
    ['krona_haken', { head: 1 }, { control: 0.8, prop: 0.3 }, ['krona', 'haken']],
    // Hips that are said with another word are no spine as well; alone they may be.
    ['korbel_drehsel', { hips: 1 }, { twist: 1 }, ['korbel', 'drehsel']],
    // A root word beside a part of the body is only its base; alone it is the root.
    ['mastik_boden', { spine: 1 }, {}, ['mastik', 'boden']],
    ['boden', {}, { root: 1 }, ['boden']],
    ['flosse_boden', { upperArm: 0.6, lowerArm: 0.5, shoulder: 0.4 }, { root: 1 }, ['flosse', 'boden']],
    // A word that says which finger leaves nothing of the plain word for finger, nor of the hand.
    ['zapfen_dumpel', { thumb: 1 }, {}, ['zapfen', 'dumpel']],
    ['faust_dumpel', { thumb: 1 }, {}, ['faust', 'dumpel']],
    ['faust_zapfen', { finger: 1, index: 0.5, middle: 0.5 }, {}, ['faust', 'zapfen']],
    ['faust_halbdaum', { hand: 1, thumb: 0.6 }, {}, ['faust', 'halbdaum']],
    // A digit of the foot is no finger and hardly the toes.
    ['zehling_dumpel', { toes: 0.2 }, { toeDigit: 1 }, ['zehling', 'dumpel']],
    ['zehling', { toes: 1 }, {}, ['zehling']],
    // Words glued together are taken apart into the fewest that cover everything.
    ['kronadrehsel', { head: 1 }, { twist: 1 }, ['krona', 'drehsel']],
    ['faustringdrehsel', { lowerArm: 0.9 }, { twist: 1 }, ['faustring', 'drehsel']],
    ['kronaxdrehsel', {}, {}, []],
    // Nothing known, nothing said.
    ['quaxel', {}, {}, []],
    ['', {}, {}, []],
  ])('%s', (name, body, other, words) => {
    const reading = read(name);
    expect(reading.body).toEqual(body);
    expect(reading.other).toEqual(other);
    expect(reading.words).toEqual(words);
  });

  it.each([
    ['upper_flosse', 'upper', { upperArm: 1 }],
    ['flosse_lower', 'lower', { lowerArm: 1 }],
    ['upper_stelze', 'upper', { upperLeg: 1 }],
    ['stelzeLow', 'lower', { lowerLeg: 1 }],
    // A limb has an upper and a lower part; a head has neither, and the word changes nothing.
    ['upper_krona', 'upper', { head: 1 }],
    ['flosse', null, { upperArm: 0.6, lowerArm: 0.5, shoulder: 0.4 }],
    // The first of two counts.
    ['upper_lower_flosse', 'upper', { upperArm: 1 }],
    ['lower_upper_flosse', 'lower', { lowerArm: 1 }],
  ])('%s is the %s part', (name, modifier, body) => {
    expect(read(name).modifier).toBe(modifier);
    expect(read(name).body).toEqual(body);
  });

  it('a phrase that starts with upper or lower says which part, as a word of its own does', () => {
    const dialect = compileDialect([
      {
        language: 'Gullish',
        entries: [
          ['upperflosse', { upperArm: 0.6, lowerArm: 0.5 }],
          ['lowerflosse', { upperArm: 0.5, lowerArm: 0.6 }],
          ['flosse oberflosse', { upperArm: 0.6, lowerArm: 0.5 }],
        ],
      },
    ]);
    const of = (name: string) => {
      const { modifier, body } = readNames([name], dialect).bones[0];
      return [modifier, body];
    };
    expect(of('upperflosse')).toEqual(['upper', { upperArm: 1 }]);
    expect(of('lowerflosse')).toEqual(['lower', { lowerArm: 1 }]);
    expect(of('upper_flosse')).toEqual(['upper', { upperArm: 1 }]);
    expect(of('ober_flosse')).toEqual(['upper', { upperArm: 1 }]);
    expect(of('oberflosse')).toEqual([null, { upperArm: 0.6, lowerArm: 0.5 }]);
  });
});

describe('typing errors', () => {
  it.each([
    ['one letter missing', 'mastk'],
    ['one letter more', 'masttik'],
    ['one letter wrong', 'mastyk'],
    ['two letters swapped', 'matsik'],
    ['the first one missing', 'astik'],
    ['the last one missing', 'masti'],
    ['one more in front', 'xmastik'],
    ['one more behind', 'mastikx'],
  ])('%s: known at four fifths of the weight', (_, name) => {
    expect(read(name).body).toEqual({ spine: 0.8 });
    expect(read(name).words).toEqual(['mastik']);
  });

  it.each([
    ['two letters missing', 'matk'],
    ['two letters wrong', 'mxstyk'],
    ['a word too short to tell', 'fast'],
  ])('%s: not known', (_, name) => {
    expect(read(name).body).toEqual({});
  });

  it('the same error in several names is read alike', () => {
    expect(
      readAll(['mastyk_1', 'mastyk_2', 'mastyk_3']).bones.map(({ body, numbers }) => [body.spine, numbers]),
    ).toEqual([
      [0.8, [1]],
      [0.8, [2]],
      [0.8, [3]],
    ]);
  });

  it('a small word is found at its full length of five letters and not below', () => {
    const dialect = compileDialect([
      {
        language: 'Gullish',
        entries: [
          ['krona', { head: 1 }],
          ['faul', { hand: 1 }],
        ],
      },
    ]);
    const of = (name: string) => readNames([name], dialect).bones[0].body;
    expect(of('kroma')).toEqual({ head: 0.8 });
    expect(of('kronan')).toEqual({ head: 0.8 });
    expect(of('kron')).toEqual({});
    expect(of('fauls')).toEqual({});
    expect(of('faun')).toEqual({});
  });
});

describe('numbers and pairs', () => {
  it('numbers are kept in their order, as they count', () => {
    expect(read('mastik_01_3').numbers).toEqual([1, 3]);
    expect(read('zapfen12').numbers).toEqual([12]);
    expect(read('krona').numbers).toEqual([]);
  });

  it('a pair has one key, its side replaced, glued or apart; what else differs keeps keys apart', () => {
    const { bones } = readAll(['faust_left', 'faust_right', 'leftfaust', 'rightfaust', 'faust_left_2', 'krona']);
    expect(bones.map(({ pairKey }) => pairKey)).toEqual([
      'faust *',
      'faust *',
      '*faust',
      '*faust',
      'faust * 2',
      'krona',
    ]);
    expect(bones.map(({ side }) => side)).toEqual(['left', 'right', 'left', 'right', 'left', null]);
    expect(bones[2].words).toEqual(['faust']);
  });

  it('a side mark is no word of the name and a word no side mark', () => {
    expect(read('left').words).toEqual([]);
    expect(read('left').side).toBe('left');
  });
});

describe('what all names share', () => {
  const stems = ['korbel', 'mastik', 'krona', 'faust_left', 'faust_right', 'zehling_left', 'zehling_right'];

  it('is the prefix: with its number and separators, in front only, up to the whole name', () => {
    expect(readAll(stems.map((stem) => `tide07_${stem}`)).prefixLengths).toEqual(stems.map(() => 7));
    expect(readAll(stems.map((stem) => `${stem}_tide`)).prefixLengths).toEqual(stems.map(() => 0));
    expect(readAll([...stems.map((stem) => `tide:${stem}`), 'tide']).prefixLengths).toEqual([...stems.map(() => 5), 4]);
  });

  it('says nothing about a bone, even where it is a word', () => {
    const { bones } = readAll(stems.map((stem) => `haken_${stem}`));
    expect(bones[2].other).toEqual({});
    expect(bones[2].words).toEqual(['krona']);
  });

  it('has no number of its own in it unless all share it', () => {
    const counted = readAll(stems.map((stem, at) => `tide${at}_${stem}`));
    expect(counted.bones.map(({ numbers }) => numbers)).toEqual(stems.map((_, at) => [at]));
    expect(readAll(stems.map((stem) => `tide27_${stem}`)).bones.map(({ numbers }) => numbers)).toEqual(
      stems.map(() => []),
    );
    expect(counted.prefixLengths).toEqual(stems.map(() => 4));
  });

  it('takes six names and three in five of them', () => {
    const shared = (count: number, of: number) =>
      readAll(
        Array.from({ length: of }, (_, at) => `${at < count ? 'tide_' : ''}${'klmnopqrst'[at]}aa`),
      ).prefixLengths.filter((length) => length > 0).length;
    expect(shared(5, 5)).toBe(0);
    expect(shared(6, 6)).toBe(6);
    expect(shared(6, 10)).toBe(6);
    expect(shared(5, 10)).toBe(0);
  });

  it('a side mark needs seven in ten to be a prefix', () => {
    const marked = (count: number) =>
      readAll(Array.from({ length: 10 }, (_, at) => `${at < count ? 'left_' : ''}${'klmnopqrst'[at]}aa`)).bones.filter(
        ({ side }) => side === 'left',
      ).length;
    expect(marked(6)).toBe(6);
    expect(marked(7)).toBe(0);
  });

  it('counts the names that mean something', () => {
    expect(readAll(['krona', 'quaxel', 'mastik_2', 'node_7']).meaningfulShare).toBe(0.5);
    expect(readAll([]).meaningfulShare).toBe(0);
  });
});

describe('side marks that a rig teaches', () => {
  const pairs = (left: string, right: string, count: number) =>
    ['faust', 'flosse', 'stelze', 'zehling'].slice(0, count).flatMap((stem) => [`${stem}_${left}`, `${stem}_${right}`]);
  const sides = (names: readonly string[], parents?: readonly number[]) =>
    readAll(names, parents)
      .bones.map(({ side }) => side?.[0] ?? '-')
      .join('');

  it('are letters that pair three times or more', () => {
    expect(sides(pairs('g', 'd', 3))).toBe('lrlrlr');
    expect(sides(pairs('g', 'd', 2))).toBe('----');
  });

  it('are one pair: the one that recurs most', () => {
    expect(sides([...pairs('g', 'd', 4), 'krona_s', 'krona_d', 'mastik_s'])).toBe('lrlrlrlr-r-');
  });

  it('are none between a bone and one above it', () => {
    const names = pairs('x', 'y', 3);
    expect(sides(names)).toBe('lrlrlr');
    expect(sides(names, [-1, 0, -1, 2, -1, 4])).toBe('------');
    expect(sides(names, [-1, -1, 0, 1, 0, 1])).toBe('lrlrlr');
  });

  it('give way to plain words for the sides', () => {
    const words = ['left_krona', 'right_krona', 'left_mastik', 'right_mastik', 'left_korbel', 'right_korbel'];
    expect(sides([...words, ...pairs('x', 'y', 3)])).toBe('lrlrlr------');
    expect(sides([...words.slice(0, 2), ...pairs('x', 'y', 3)])).toBe('lrlrlrlr');
  });

  it('the longer of two marks counts, and the first of two alike', () => {
    expect(sides(['l_faust_right', 'left_faust_r', 'left_faust_links', 'faust_r_l'])).toBe('rllr');
  });

  it('a letter glued to a word counts where the rest is a word that is known', () => {
    expect(sides(['lfaust', 'rfaust', 'faustl', 'lquax', 'leftquax', 'quaxleft'])).toBe('lrl-ll');
  });
});

describe('pieces of a name', () => {
  const texts = (name: string) =>
    tokenise(name)
      .map(({ text, isNumber }) => (isNumber ? `#${text}` : text))
      .join(' ');
  it.each([
    ['FKHandLeft', 'fk hand left'],
    ['handL', 'hand l'],
    ['HANDL', 'handl'],
    ['Arm__01..02', 'arm #01 #02'],
    ['a1b2', 'a #1 b #2'],
    ['::x', 'x'],
    ['___', ''],
    ['', ''],
    ['ひじ左', 'ひじ 左'],
    ['スカートA', 'スカート a'],
    ['Épaule-Gauche', 'epaule gauche'],
    ['腕٣', '腕 #٣'],
    ['ŁydkaŻ', 'lydka z'],
    ['arm~left', 'arm left'],
    ['Fuß', 'fuss'],
    ['bjørnær', 'bjornaer'],
  ])('%s', (name, pieces) => {
    expect(texts(name)).toBe(pieces);
  });

  it('fold letters as far as they are the same and no further', () => {
    expect(foldText('ÀÇé')).toBe('ace');
    expect(foldText('ガ')).toBe('ガ');
    expect(foldText('ﾊﾝﾄﾞ')).toBe('ハンド');
    expect(foldText('Plain Name_1')).toBe('plain name_1');
  });

  it('wrongly decoded letters are put right where that yields text, and kept where it does not', () => {
    expect(repairMojibake('OberkÃ¶rper')).toBe('Oberkörper');
    expect(repairMojibake('RÃ©sumÃ© Ã\u0020')).toBe('RÃ©sumÃ© Ã\u0020');
    expect(repairMojibake('São Ângelo')).toBe('São Ângelo');
  });
});

describe('the shipped words', () => {
  it('are found whole, in pieces and beside others', () => {
    const { bones } = readNames(['left_upper_arm_twist_02', 'handIndex1', 'toe_big_l'], shippedDialect());
    expect(bones[0]).toMatchObject({
      side: 'left',
      modifier: 'upper',
      numbers: [2],
      body: { upperArm: 1 },
      other: { twist: 1 },
    });
    expect(bones[1].body).toEqual({ index: 1 });
    expect(bones[2].other.toeDigit).toBe(1);
  });
});
