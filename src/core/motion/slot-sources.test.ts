import { describe, expect, it } from 'vitest';
import { QUAY } from '../definition/quay';
import type { BoneSlot } from './line-slots';
import type { Slot } from './motion';
import { slotSources } from './slot-sources';

const slot = (line: string, role: string | null, u = 1): Slot => ({ line, role, u });
const bones = (slots: readonly Slot[]): BoneSlot[] => slots.map((each, boneIndex) => ({ ...each, boneIndex }));
const TRUNK = [slot('trunk', 'hips', 0), slot('trunk', 'spine', 0.4), slot('trunk', 'chest', 1)];

describe('where turns come from', () => {
  it('a run of as many joints goes one by one, wherever they lie', () => {
    const target = bones([slot('trunk', 'hips', 0), slot('trunk', 'spine', 0.7), slot('trunk', null, 1)]);
    expect(slotSources(QUAY, TRUNK, target).map(({ from, share }) => [from, share])).toEqual([
      [0, 0],
      [1, 0],
      [2, 0],
    ]);
  });

  it('another count is sampled along the line, the last joint as the last', () => {
    const target = bones([slot('trunk', 'hips', 0), ...[0.2, 0.4, 0.7, 1].map((u) => slot('trunk', null, u))]);
    const found = slotSources(QUAY, TRUNK, target).slice(1);
    expect(found.map(({ from, to }) => [from, to])).toEqual([
      [0, 1],
      [0, 1],
      [1, 2],
      [1, 2],
    ]);
    [0.5, 1, 0.5, 1].forEach((share, at) => expect(found[at].share).toBeCloseTo(share, 9));
  });

  it('one joint alone takes the whole turn of the line', () => {
    const [, one] = slotSources(QUAY, TRUNK, bones([slot('trunk', 'hips', 0), slot('trunk', 'spine', 1)]));
    expect([one.to, one.share]).toEqual([2, 1]);
  });

  it('a neck starts at the last joint of the back that the source has', () => {
    const source = [...TRUNK, slot('neckHead', 'head', 1)];
    const [neck, head] = slotSources(QUAY, source, bones([slot('neckHead', 'neck', 0.6), slot('neckHead', 'head', 1)]));
    expect([neck.from, neck.to, neck.share]).toEqual([2, 3, 0.6]);
    expect([head.to, head.share]).toEqual([3, 1]);
  });

  it('limbs go role by role; what the source lacks is not listed', () => {
    const arm = [slot('leftArm', 'leftUpperArm'), slot('leftArm', 'leftHand')];
    const found = slotSources(QUAY, arm, bones([slot('leftArm', 'leftShoulder'), slot('leftArm', 'leftUpperArm')]));
    expect(found.map(({ role, from }) => [role, from])).toEqual([['leftUpperArm', 0]]);
  });

  it('a finger that is not there is taken from the nearest ones beside it, a thumb from none', () => {
    const finger = (name: string) =>
      ['Proximal', 'Intermediate', 'Distal'].map((part, at) => slot(`left${name}`, `left${name}${part}`, (at + 1) / 3));
    const source = [slot('leftArm', 'leftHand'), ...finger('Index'), ...finger('Ring')];
    const middle = slotSources(QUAY, source, bones(finger('Middle')));
    expect(middle.map(({ from, to, share }) => [from, to, share])).toEqual([
      [1, 4, 0.5],
      [2, 5, 0.5],
      [3, 6, 0.5],
    ]);
    expect(slotSources(QUAY, source, bones(finger('Little'))).map(({ from, share }) => [from, share])).toEqual([
      [4, 0],
      [5, 0],
      [6, 0],
    ]);
    const thumb = bones([slot('leftThumb', 'leftThumbMetacarpal', 0.5), slot('leftThumb', 'leftThumbProximal', 1)]);
    expect(slotSources(QUAY, source, thumb)).toEqual([]);
  });
});
