import { describe, expect, it } from 'vitest';
import type { ClipTracks } from '../clips/motion-tracks';
import { YarvoError } from '../errors/yarvo-error';
import { frameTimes } from './frame-times';
import { ownRate } from './own-rate';

const clipOf = (times: number[], name = 'walk'): ClipTracks => ({
  name,
  tracks: [
    {
      bone: 0,
      path: 'translation',
      interpolation: 'LINEAR',
      times: Float32Array.from(times),
      values: new Float32Array(times.length * 3),
    },
  ],
  morphs: [],
});
const evenly = (count: number, rate: number, from = 0) => Array.from({ length: count }, (_, at) => from + at / rate);
const codeOf = (work: () => unknown): string => {
  try {
    work();
    return 'none';
  } catch (error) {
    return error instanceof YarvoError ? error.problem.code : String(error);
  }
};

describe('frames of a clip', () => {
  it('go from its start to its last key, whatever floats make of the times', () => {
    expect(frameTimes(clipOf(evenly(31, 30)), { framesPerSecond: 30 }, 'x').frameCount).toBe(31);
    expect(frameTimes(clipOf(evenly(100_001, 60)), { framesPerSecond: 60 }, 'x').frameCount).toBe(100_001);
    expect(frameTimes(clipOf(evenly(31, 30)), { framesPerSecond: 12 }, 'x').frameCount).toBe(13);
  });

  it('leave a reference frame out: at an end the clip is shorter, in the middle it is bridged', () => {
    const clip = clipOf(evenly(31, 30));
    const without = (frame: number) =>
      frameTimes(clip, { framesPerSecond: 30, droppedFrame: { frame, framesPerSecond: 30 } }, 'x');
    expect(without(0).frameCount).toBe(30);
    expect(without(0).seconds(0, 2)[0]).toBeCloseTo(1 / 30, 6);
    expect(without(30).frameCount).toBe(30);
    expect(without(30).seconds(29, 1)[0]).toBeCloseTo(29 / 30, 6);
    expect(without(12).frameCount).toBe(31);
    expect(without(12).seconds(12, 1)[0]).toBeCloseTo(11 / 30, 6);
  });

  it('are refused with clip and place where there are none, too many, or the rate is none', () => {
    expect(codeOf(() => frameTimes(clipOf([0]), { framesPerSecond: 30 }, 'x'))).toBe('empty-clip');
    expect(codeOf(() => frameTimes(clipOf(evenly(31, 30)), { framesPerSecond: 0 }, 'x'))).toBe('bad-rate');
    expect(codeOf(() => frameTimes(clipOf(evenly(31, 30)), { framesPerSecond: NaN }, 'x'))).toBe('bad-rate');
    expect(codeOf(() => frameTimes(clipOf(evenly(31, 30)), { framesPerSecond: 30, mostFrames: 30 }, 'x'))).toBe(
      'too-long',
    );
    const two = { framesPerSecond: 1, droppedFrame: { frame: 0, framesPerSecond: 30 } };
    expect(frameTimes(clipOf(evenly(31, 30)), two, 'the file').framesPerSecond).toBe(1);
  });
});

describe("a clip's own rate", () => {
  it('is what its file states, else how its densest keys follow one another', () => {
    expect(ownRate(clipOf(evenly(31, 30)), 25)).toBe(25);
    expect(ownRate(clipOf(evenly(31, 24)), 0)).toBe(24);
    expect(ownRate(clipOf(evenly(31, 30000 / 1001)), 0)).toBeCloseTo(29.97, 2);
    // Keys that start late count from there.
    expect(ownRate(clipOf(evenly(31, 60, 1 / 60)), 0)).toBe(60);
  });

  it('is 30 where keys are poses to be joined', () => {
    expect(ownRate(clipOf([0, 1, 2, 3]), 0)).toBe(30);
    expect(ownRate(clipOf([0, 0.01, 0.9, 1, 3]), 0)).toBe(30);
    expect(ownRate(clipOf([0, 1]), 0)).toBe(30);
  });
});
