import { describe, expect, it } from 'vitest';
import { plainBiped } from '../../../../tests/helpers/plain-biped';
import { makeRig, type PlainBone } from '../../../../tests/helpers/rig-maker';
import { DIGITS } from '../../definition/definition';
import { QUAY } from '../../definition/quay';
import { matchBones } from '../match-bones';

/** One digit: how far in front of the hand's middle it stands, and its bones' names from the palm outward. */
interface Digit {
  readonly z: number;
  readonly names: readonly string[];
  readonly isThumb?: boolean;
}

/** The plain figure with hands of its own; `%` in a name stands for the side. */
function withHands(digits: readonly Digit[]): PlainBone[] {
  const body = plainBiped({ toes: 0.12 }, ['left', 'right']).filter(({ position }) => Math.abs(position[0]) < 0.78);
  const hands = body.filter(({ position }) => Math.abs(position[0]) === 0.72);
  return [
    ...body,
    ...hands.flatMap((hand) => {
      const k = Math.sign(hand.position[0]);
      const side = k > 0 ? 'left' : 'right';
      return digits.flatMap(({ z, names, isThumb }) =>
        names.map((name, at): PlainBone => ({
          name: name.replace('%', side),
          parent: at === 0 ? hand.name : names[at - 1].replace('%', side),
          position: isThumb
            ? [hand.position[0] + k * (0.03 + 0.02 * at), 1.42, 0.03 + 0.025 * at]
            : [hand.position[0] + k * (0.09 + 0.035 * at), 1.43, z],
        })),
      );
    }),
  ];
}

const found = (bones: readonly PlainBone[], withSkin = false) => {
  const { assignments } = matchBones(makeRig(bones, withSkin), QUAY);
  return (role: string) => (assignments[role] ? bones[assignments[role].boneIndex].name : null);
};

const row = (stem: (digit: number) => string, count = 5, segments = 3): Digit[] =>
  Array.from({ length: count }, (_, digit) => ({
    z: 0.035 - digit * 0.018,
    isThumb: digit === 0,
    names: Array.from({ length: segments }, (_none, segment) => `${stem(digit)}${segment + 1}`),
  }));

describe('digits', () => {
  it('are told by the place across the palm where the names say nothing, on both hands alike', () => {
    const at = found(withHands(row((digit) => `%_x${'defgh'[digit]}`)));
    DIGITS.forEach((digit, index) => {
      const first = digit === 'Thumb' ? 'Metacarpal' : 'Proximal';
      for (const side of ['left', 'right']) expect(at(`${side}${digit}${first}`)).toBe(`${side}_x${'defgh'[index]}1`);
    });
  });

  it.each([
    [0, 'counted from 0 at the thumb'],
    [1, 'counted from 1 at the thumb'],
  ])('are told by their numbers (%i, %s)', (from) => {
    const at = found(withHands(row((digit) => `%_finger_${digit + from}_`)));
    DIGITS.forEach((digit, index) => expect(at(`left${digit}Distal`)).toBe(`left_finger_${index + from}_3`));
  });

  it('follow names against places that would say otherwise', () => {
    const names = ['thumb', 'pinky', 'ring', 'middle', 'index'];
    const at = found(withHands(row((digit) => `%_${names[digit]}`)));
    expect(at('leftIndexProximal')).toBe('left_index1');
    expect(at('leftLittleProximal')).toBe('left_pinky1');
  });

  it('are four on a hand of four: the little finger stays vacant', () => {
    const at = found(withHands(row((digit) => `%_x${'defg'[digit]}`, 4)));
    expect(at('leftRingProximal')).toBe('left_xg1');
    expect(at('leftLittleProximal')).toBeNull();
  });

  it('without a thumb-like one keep the thumb vacant', () => {
    const flat = row((digit) => `%_${['index', 'middle', 'ring', 'pinky'][digit]}`, 4).map((digit) => ({
      ...digit,
      isThumb: false,
    }));
    const at = found(withHands(flat));
    expect(at('leftThumbMetacarpal')).toBeNull();
    expect(at('leftIndexProximal')).toBe('left_index1');
  });

  it('of two bones fill from the palm: the last segment stays vacant', () => {
    const at = found(
      withHands(row((digit) => `%_${['thumb', 'index', 'middle', 'ring', 'pinky'][digit]}`, 5, 2)),
      true,
    );
    expect(at('rightMiddleProximal')).toBe('right_middle1');
    expect(at('rightMiddleIntermediate')).toBe('right_middle2');
    expect(at('rightMiddleDistal')).toBeNull();
    expect(at('rightThumbProximal')).toBe('right_thumb2');
  });

  it('leave out what hangs on the hand and is no finger', () => {
    const digits = [
      ...row((digit) => `%_${['thumb', 'index', 'middle', 'ring', 'pinky'][digit]}`),
      { z: -0.06, names: ['%_bucket_prop', '%_bucket_prop_lid'] },
      { z: 0, names: ['%_grip_target'] },
    ];
    const bones = withHands(digits);
    const { assignments, spares } = matchBones(makeRig(bones, true), QUAY);
    const taken = new Set(Object.values(assignments).map(({ boneIndex }) => bones[boneIndex].name));
    for (const name of ['left_bucket_prop', 'right_bucket_prop_lid', 'left_grip_target'])
      expect(taken.has(name)).toBe(false);
    expect(spares.find(({ boneIndex }) => bones[boneIndex].name === 'left_bucket_prop')?.kind).toBe('prop');
    expect(taken.has('left_pinky3')).toBe(true);
  });

  it('that only one hand has are less sure than those that both have', () => {
    const bones = withHands(row((digit) => `%_${['thumb', 'index', 'middle', 'ring', 'pinky'][digit]}`));
    const sure = (list: readonly PlainBone[]) =>
      matchBones(makeRig(list), QUAY).assignments.leftIndexProximal.confidence;
    expect(sure(bones.filter(({ name }) => !name.startsWith('right_index')))).toBeLessThan(sure(bones));
  });
});
