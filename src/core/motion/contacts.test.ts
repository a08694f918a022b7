import { describe, expect, it } from 'vitest';
import { findContacts, type ContactTrack } from './contacts';

const SCALE = { leg: 0.9, framesPerSecond: 30, ground: 0, floor: 0 };
const foot = (placeAt: (frame: number) => [number, number, number], frames = 60): ContactTrack => ({
  part: 'leftFoot',
  places: Float32Array.from(Array.from({ length: frames }, (_, frame) => placeAt(frame)).flat()),
  restHeight: 0.09,
});
/** On the floor to frame 20, through the air to frame 40, on the floor again. */
const stepping = (frame: number): [number, number, number] => {
  const share = Math.max(0, Math.min(1, (frame - 20) / 20));
  return [0, 0.09 + 0.12 * Math.sin(share * Math.PI), share * 0.7];
};

describe('contacts', () => {
  it('are where a foot is low and still', () => {
    const spans = findContacts([foot(stepping)], SCALE);
    expect(spans).toHaveLength(2);
    expect(spans[0].from).toBe(0);
    expect(Math.abs(spans[0].to - 20)).toBeLessThanOrEqual(2);
    expect(Math.abs(spans[1].from - 40)).toBeLessThanOrEqual(2);
    expect(spans[1].to).toBe(59);
  });

  it('are counted in legs: a giant at the same pace of his legs touches at the same frames', () => {
    const large = foot((frame) => stepping(frame).map((value) => value * 10) as [number, number, number]);
    const spans = findContacts([{ ...large, restHeight: 0.9 }], { ...SCALE, leg: 9 });
    expect(spans).toEqual(findContacts([foot(stepping)], SCALE));
  });

  it('do not flicker: between the two limits a foot stays what it was', () => {
    // Trembles about the lower limit of height, 0.06 legs, by less than the upper one, 0.1.
    const trembling = foot((frame) => [0, 0.09 + Math.min(1, frame / 20) * (0.06 * 0.9 + 0.005 * Math.sin(frame)), 0]);
    expect(findContacts([trembling], SCALE)).toEqual([{ part: 'leftFoot', from: 0, to: 59 }]);
  });

  it('last through a heel that rises while the ball stays', () => {
    const heel = foot((frame) => [0, 0.09 + 0.004 * frame, 0]);
    const ball: ContactTrack = { ...foot(() => [0, 0.02, 0.1]), restHeight: 0.02 };
    expect(findContacts([heel, ball], SCALE)).toEqual([{ part: 'leftFoot', from: 0, to: 59 }]);
  });

  it('of a hand are with the floor, not with its height in the reference posture', () => {
    const hand = (height: number): ContactTrack => ({
      ...foot(() => [0.3, height, 0.2]),
      part: 'leftHand',
      restHeight: 1.4,
    });
    expect(findContacts([hand(0.05)], SCALE)).toHaveLength(1);
    expect(findContacts([hand(1.4)], SCALE)).toHaveLength(0);
  });

  it('follow a motion whose floor is not that of the rest', () => {
    const raised = foot((frame) => [0, stepping(frame)[1] + 0.9, stepping(frame)[2]]);
    expect(findContacts([raised], SCALE)).toEqual([]);
    expect(findContacts([raised], { ...SCALE, ground: 0.9 })).toEqual(findContacts([foot(stepping)], SCALE));
  });
});
