import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { angleOf, conjugate, fromAxisAngle, multiply, type Quat } from '../math/quat';
import type { Track } from './motion-tracks';
import { sampleTrack, spanOf } from './sample-tracks';

const track = (
  path: Track['path'],
  interpolation: Track['interpolation'],
  times: number[],
  values: number[],
): Track => ({
  bone: 0,
  path,
  interpolation,
  times: Float32Array.from(times),
  values: Float32Array.from(values),
});

describe('a track at a time', () => {
  it('keeps its first and last key before and after them', () => {
    const moved = track('translation', 'LINEAR', [1, 2], [0, 0, 0, 4, 2, 0]);
    expect(sampleTrack(moved, -5)).toEqual([0, 0, 0]);
    expect(sampleTrack(moved, 1.25)).toEqual([1, 0.5, 0]);
    expect(sampleTrack(moved, 9)).toEqual([4, 2, 0]);
  });

  it('holds a stepped value until the next key', () => {
    const stepped = track('scale', 'STEP', [0, 1], [1, 1, 1, 2, 2, 2]);
    expect(sampleTrack(stepped, 0.999)).toEqual([1, 1, 1]);
    expect(sampleTrack(stepped, 1)).toEqual([2, 2, 2]);
  });

  it('turns along the shorter way, whatever sign the keys have', () => {
    const [from, to] = [fromAxisAngle([0, 1, 0], 0.2), fromAxisAngle([0, 1, 0], 1)];
    for (const sign of [1, -1]) {
      const turned = track('rotation', 'LINEAR', [0, 1], [...from, ...to.map((value) => value * sign)]);
      const half = sampleTrack(turned, 0.5) as unknown as Quat;
      expect(angleOf(multiply(half, conjugate(fromAxisAngle([0, 1, 0], 0.6))))).toBeCloseTo(0, 5);
    }
  });

  it('follows a spline through its keys, and along its tangents', () => {
    // x³ between 0 and 1: value 0 and 1, slope 0 and 3.
    const cubic = track('translation', 'CUBICSPLINE', [0, 1], [0, 0, 0, 0, 0, 0, 0, 0, 0, 3, 0, 0, 1, 0, 0, 0, 0, 0]);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (t) => {
        expect(sampleTrack(cubic, t)[0]).toBeCloseTo(t ** 3, 5);
      }),
    );
  });

  it('a clip lasts from its first key to its last, over all tracks', () => {
    const tracks = [
      track('translation', 'LINEAR', [0.5, 2], [0, 0, 0, 1, 0, 0]),
      track('scale', 'STEP', [1, 3], [1, 1, 1, 1, 1, 1]),
    ];
    expect(spanOf({ name: 'walk', tracks, morphs: [] })).toEqual({ start: 0.5, end: 3 });
    expect(spanOf({ name: 'empty', tracks: [], morphs: [] })).toEqual({ start: 0, end: 0 });
  });
});
