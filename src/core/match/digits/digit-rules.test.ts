import { describe, expect, it } from 'vitest';
import { makeRig, type PlainBone } from '../../../../tests/helpers/rig-maker';
import { DIGITS } from '../../definition/definition';
import { shippedDialect } from '../../dialect/dialect';
import type { Vec3 } from '../../math/vec3';
import { createContext, type EvidenceSwitches } from '../context/context';
import { matchDigits, type DigitMatch } from './digits';

/** A chain of a hand by its bones' names from the palm outward; where it starts and how it runs on, in hand lengths. */
interface Chain {
  readonly names: readonly string[];
  readonly start: Vec3;
  readonly step?: Vec3;
  /** Names of bones that move nothing, where the hand has a skin. */
  readonly still?: readonly string[];
}

/** A hand at the origin that points along +x, thumb towards +z, with a forearm behind it. */
function handOf(chains: readonly Chain[], mark = ''): PlainBone[] {
  const k = mark === '_r' ? -1 : 1;
  const flip = ([x, y, z]: Vec3): Vec3 => [k * (x + 1), y, z];
  return [
    { name: `forearm${mark}`, parent: null, position: [0, 0, 0] },
    { name: `hand${mark}`, parent: `forearm${mark}`, position: flip([0, 0, 0]) },
    ...chains.flatMap(({ names, start, step = [0.3, 0, 0] }) =>
      names.map((name, at): PlainBone => ({
        name: name + mark,
        parent: at === 0 ? `hand${mark}` : names[at - 1] + mark,
        position: flip([start[0] + at * step[0], start[1] + at * step[1], start[2] + at * step[2]]),
      })),
    ),
  ];
}

/** Share of its confidence that a digit keeps which only one hand shows. */
const LONE = 0.8 * 0.85;

interface Options {
  readonly skin?: boolean;
  readonly use?: Partial<EvidenceSwitches>;
}

/** What one hand is read as: "Thumb a1 a2" per digit. The other hand is not there. */
function readHand(
  chains: readonly Chain[],
  { skin = false, use }: Options = {},
): { digits: string[]; matches: DigitMatch[]; of: (digit: string) => DigitMatch } {
  const bones = handOf(chains);
  const rig = makeRig(bones, skin);
  const still = new Set(chains.flatMap((chain) => chain.still ?? []));
  const withStill = {
    ...rig,
    bones: rig.bones.map((bone) => (still.has(bone.name) ? { ...bone, skinWeight: 0, skinVertexCount: 0 } : bone)),
  };
  const matches = matchDigits(createContext(withStill, shippedDialect(), { use }), [1, -1]);
  return {
    matches,
    digits: matches.map(({ digit, segments }) => `${digit} ${segments.map(([a]) => bones[a].name).join(' ')}`),
    of: (digit) => matches.find((match) => match.digit === digit) as DigitMatch,
  };
}

const chain = (stem: string, z: number, count = 3, x = 0.9): Chain => ({
  names: Array.from({ length: count }, (_, at) => `${stem}${at + 1}`),
  start: [x, 0, z],
});
const thumb = (stem: string, count = 3): Chain => ({
  names: Array.from({ length: count }, (_, at) => `${stem}${at + 1}`),
  start: [0.25, -0.05, 0.25],
  step: [0.15, 0, 0.2],
});
/** Knuckles from the one beside the thumb outward, `names` in that order. */
const knuckles = (names: readonly string[], count = 3): Chain[] =>
  names.map((name, at) => chain(name, 0.3 - at * 0.2, count));

describe('a hand without names', () => {
  it('has its thumb apart and its fingers in order, whichever way the file lists them', () => {
    const chains = [thumb('qa'), ...knuckles(['qb', 'qc', 'qd', 'qe'])];
    const expected = [
      'Thumb qa1 qa2 qa3',
      'Index qb1 qb2 qb3',
      'Middle qc1 qc2 qc3',
      'Ring qd1 qd2 qd3',
      'Little qe1 qe2 qe3',
    ];
    expect(readHand(chains).digits).toEqual(expected);
    expect(readHand([...chains].reverse()).digits).toEqual(expected);
    expect(readHand([chains[2], chains[4], chains[0], chains[3], chains[1]]).digits).toEqual(expected);
  });

  it('of three digits fills from the thumb outward', () => {
    expect(readHand([thumb('qa'), ...knuckles(['qb', 'qc'])]).digits).toEqual([
      'Thumb qa1 qa2 qa3',
      'Index qb1 qb2 qb3',
      'Middle qc1 qc2 qc3',
    ]);
  });

  it('of one digit has a thumb; of two it is in doubt which, and both keep seven tenths at most', () => {
    const one = readHand([chain('qa', 0)]);
    expect(one.digits).toEqual(['Thumb qa1 qa2 qa3']);
    const two = readHand([thumb('qa'), chain('qb', 0)]);
    expect(two.digits).toEqual(['Thumb qa1 qa2 qa3', 'Index qb1 qb2 qb3']);
    for (const digit of ['Thumb', 'Index']) expect(two.of(digit).confidence).toBeLessThanOrEqual(0.7 * LONE);
    // Names settle it: the same two with one named are as sure as any.
    const named = readHand([{ ...thumb('qa'), names: ['thumb1', 'thumb2', 'thumb3'] }, chain('qb', 0)]);
    expect(named.of('Thumb').confidence).toBeCloseTo(LONE, 3);
  });

  it('has at most five digits: the odd one out of six is left', () => {
    const six = readHand([
      thumb('qa'),
      ...knuckles(['qb', 'qc', 'qd', 'qe']),
      { names: ['qf1', 'qf2'], start: [0.3, 0.4, -0.1], step: [0, 0.2, 0] },
    ]);
    expect(six.matches).toHaveLength(5);
    expect(six.digits.map((text) => text.split(' ')[0])).toEqual(DIGITS);
  });

  it('without place cannot tell its fingers: the confidence says so', () => {
    const chains = [thumb('qa'), ...knuckles(['qb', 'qc', 'qd', 'qe'])];
    const [seen, blind] = [readHand(chains), readHand(chains, { use: { place: false } })];
    expect(seen.of('Index').confidence).toBeCloseTo(LONE, 2);
    expect(blind.of('Index').confidence).toBeLessThanOrEqual(0.5 * LONE + 1e-9);
  });
});

describe('palm bones', () => {
  /** Fingers that each start with a bone beside the wrist. */
  const withPalm = (names: readonly string[], count = 4): Chain[] =>
    names.map((name, at) => ({
      names: Array.from({ length: count }, (_, segment) => `${name}${segment + 1}`),
      start: [0.15, 0, 0.1 - at * 0.06],
      step: [0.5, 0, (0.3 - at * 0.2) * 0.4],
    }));

  it('are passed over where a finger has a bone too many and starts at the wrist', () => {
    expect(readHand([thumb('qa'), ...withPalm(['qb', 'qc', 'qd', 'qe'])]).digits).toEqual([
      'Thumb qa1 qa2 qa3',
      'Index qb2 qb3 qb4',
      'Middle qc2 qc3 qc4',
      'Ring qd2 qd3 qd4',
      'Little qe2 qe3 qe4',
    ]);
  });

  it('are passed over by place where the tips are missing, a little less sure', () => {
    const short = readHand([thumb('qa'), ...withPalm(['qb', 'qc', 'qd', 'qe'], 3)]);
    expect(short.digits.slice(1)).toEqual(['Index qb2 qb3', 'Middle qc2 qc3', 'Ring qd2 qd3', 'Little qe2 qe3']);
    const full = readHand([thumb('qa'), ...withPalm(['qb', 'qc', 'qd', 'qe'])]);
    expect(short.of('Middle').confidence).toBeCloseTo(0.92 * LONE, 2);
    expect(full.of('Middle').confidence).toBeCloseTo(LONE, 2);
  });

  it('belong to all fingers or to none: one that starts low is no palm bone', () => {
    const odd = readHand([
      thumb('qa'),
      ...knuckles(['qb', 'qc', 'qd']),
      { names: ['qe1', 'qe2', 'qe3'], start: [0.2, 0, -0.3], step: [0.5, 0, 0] },
    ]);
    expect(odd.of('Little').segments).toHaveLength(3);
  });

  it('that are named so are none of the segments, but the thumb keeps its own', () => {
    const names = (digit: string) => [`${digit}_metacarpal`, `${digit}_1`, `${digit}_2`, `${digit}_3`];
    const hand = readHand([
      { ...thumb(''), names: ['thumb_metacarpal', 'thumb_1', 'thumb_2'] },
      { names: names('index'), start: [0.9, 0, 0.3] },
      { names: names('middle'), start: [0.9, 0, 0.1] },
    ]);
    expect(hand.digits).toEqual([
      'Thumb thumb_metacarpal thumb_1 thumb_2',
      'Index index_1 index_2 index_3',
      'Middle middle_1 middle_2 middle_3',
    ]);
  });

  it('that carry several fingers are passed through', () => {
    const bones: PlainBone[] = [
      ...handOf([thumb('qa')]),
      { name: 'palm', parent: 'hand', position: [1.5, 0, 0] },
      ...[
        ['qb', 0.2],
        ['qc', 0],
        ['qd', -0.2],
      ].flatMap(([stem, z]) =>
        [0, 1, 2].map((at): PlainBone => ({
          name: `${stem}${at + 1}`,
          parent: at === 0 ? 'palm' : `${stem}${at}`,
          position: [1.9 + at * 0.3, 0, z as number],
        })),
      ),
    ];
    const matches = matchDigits(createContext(makeRig(bones), shippedDialect()), [1, -1]);
    expect(matches.map(({ digit, segments }) => `${digit} ${bones[segments[0][0]].name}`)).toEqual([
      'Thumb qa1',
      'Index qb1',
      'Middle qc1',
      'Ring qd1',
    ]);
  });
});

describe('the last segment', () => {
  const fingers = (count: number) => [thumb('qa', count), ...knuckles(['qb', 'qc', 'qd', 'qe'], count)];

  it('may be an end bone where neither names nor skin tell: three in a row are surer than two', () => {
    expect(readHand(fingers(3)).of('Ring').lastCertainty).toBe(0.95);
    expect(readHand(fingers(2)).of('Ring').lastCertainty).toBe(0.65);
  });

  it('is certain with a skin, with names, or once a bone beyond it was cut off', () => {
    expect(readHand(fingers(3), { skin: true }).of('Ring').lastCertainty).toBe(1);
    expect(readHand(knuckles(['index', 'middle', 'ring'], 2)).of('Ring').lastCertainty).toBe(1);
    const long = readHand(fingers(4));
    expect(long.of('Ring').lastCertainty).toBe(1);
    expect(long.of('Ring').segments).toHaveLength(3);
    expect(long.of('Ring').confidence).toBeCloseTo(0.7 * LONE, 2);
  });

  it('is found behind a first phalanx in two halves, whose second is counted behind the side mark', () => {
    const halved = (stem: string, at: number): Chain => ({
      names: [`${stem}1_l`, `${stem}1_l_2`, `${stem}2_l`, `${stem}3_l`],
      start: [0.9, 0, 0.3 - at * 0.2],
      step: [0.15, 0, 0],
    });
    const hand = readHand(['index', 'middle', 'ring', 'pinky'].map(halved), { skin: true });
    expect(hand.digits).toContain('Index index1_l index2_l index3_l');
    expect(hand.digits).toContain('Ring ring1_l ring2_l ring3_l');
    // One more that nothing explains is a doubt.
    const long = readHand([chain('index', 0.3, 4), chain('middle', 0.1, 4), chain('ring', -0.1, 4)], { skin: true });
    for (const { confidence } of long.matches) expect(confidence).toBeLessThan(0.75);
  });

  it('is not the bone that only ends it: named so, or moving nothing in a skin', () => {
    const named = readHand([{ names: ['index1', 'index2', 'index_end'], start: [0.9, 0, 0] }]);
    expect(named.of('Index').segments).toHaveLength(2);
    const skinned = readHand(
      fingers(4).map((each) => ({ ...each, still: [each.names[3]] })),
      { skin: true },
    );
    expect(skinned.of('Index').segments).toHaveLength(3);
    expect(skinned.of('Index').confidence).toBeGreaterThan(readHand(fingers(4), { skin: true }).of('Index').confidence);
  });
});

describe('a hand with names', () => {
  it('follows them, and numbers tell fingers that share one word, from 0 or from 1', () => {
    const numbered = (from: number) => [
      thumb(`finger${from}_`),
      ...knuckles([1, 2, 3, 4].map((at) => `finger${at + from}_`)),
    ];
    for (const from of [0, 1])
      expect(readHand(numbered(from)).digits.map((text) => text.split(' ')[1])).toEqual(
        [0, 1, 2, 3, 4].map((at) => `finger${at + from}_1`),
      );
    // Two digits in one number: the first says which finger, the second which segment.
    const joined = [0, 1, 2, 3, 4].map((at): Chain => ({
      ...(at === 0 ? thumb('') : chain('', 0.3 - (at - 1) * 0.2)),
      names: [1, 2, 3].map((segment) => `finger${at}${segment}`),
    }));
    expect(readHand(joined).digits).toEqual(
      DIGITS.map((digit, at) => `${digit} finger${at}1 finger${at}2 finger${at}3`),
    );
  });

  it('leaves out what is named something else, and a lone end that moves nothing', () => {
    const hand = readHand([
      ...knuckles(['index', 'middle']),
      { names: ['lantern_prop1', 'lantern_prop2'], start: [0.5, -0.3, 0] },
      { names: ['qz'], start: [0.5, 0.3, 0] },
    ]);
    expect(hand.digits).toEqual(['Index index1 index2 index3', 'Middle middle1 middle2 middle3']);
    const skinned = [...knuckles(['index', 'middle']), { names: ['qz'], start: [0.9, 0, -0.1] as Vec3 }];
    expect(readHand(skinned, { skin: true }).digits).toHaveLength(3);
    expect(
      readHand(
        skinned.map((each) => ({ ...each, still: ['qz'] })),
        { skin: true },
      ).digits,
    ).toHaveLength(2);
  });

  it('keeps the likelier seven of many chains, named ones before the rest', () => {
    const extra = Array.from({ length: 5 }, (_, at): Chain => ({
      names: [`qx${at}`, `qy${at}`],
      start: [0.5, 0.2, 0.3 - at * 0.15],
    }));
    const hand = readHand([
      ...extra,
      { ...thumb(''), names: ['thumb1', 'thumb2', 'thumb3'] },
      ...knuckles(['index', 'middle', 'ring', 'pinky']),
    ]);
    expect(hand.digits.map((text) => text.split(' ')[1])).toEqual(['thumb1', 'index1', 'middle1', 'ring1', 'pinky1']);
  });

  it('no digits, no answer', () => {
    expect(readHand([]).matches).toEqual([]);
  });
});

describe('two hands', () => {
  const both = (left: readonly Chain[], right: readonly Chain[]) => {
    const bones = [...handOf(left, '_l'), ...handOf(right, '_r')];
    const at = (name: string) => bones.findIndex((bone) => bone.name === name);
    return matchDigits(createContext(makeRig(bones), shippedDialect()), [at('hand_l'), at('hand_r')]);
  };
  const fingers = (count = 3) => knuckles(['index', 'middle', 'ring'], count);
  const index = (matches: readonly DigitMatch[]) => matches.find(({ digit }) => digit === 'Index') as DigitMatch;

  it('join what both say; what one has alone keeps four fifths, a different count 85 in a hundred', () => {
    const agreed = index(both(fingers(), fingers()));
    const alone = index(both(fingers(), fingers().slice(1)));
    const shorter = index(both(fingers(), fingers(2)));
    expect(alone.confidence / agreed.confidence).toBeCloseTo(0.8 * 0.85, 3);
    expect(shorter.confidence / agreed.confidence).toBeCloseTo(0.85, 3);
  });

  it('say -1 for the side that lacks a segment or the whole digit', () => {
    const shorter = index(both(fingers(), fingers(2)));
    expect(shorter.segments).toHaveLength(3);
    expect(shorter.segments[2][1]).toBe(-1);
    expect(shorter.segments[2][0]).toBeGreaterThan(0);
    expect(index(both(fingers(), fingers().slice(1))).segments.map(([, right]) => right)).toEqual([-1, -1, -1]);
  });
});
