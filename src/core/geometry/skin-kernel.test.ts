import { describe, expect, it } from 'vitest';
import { compose } from '../math/mat4';
import { fromAxisAngle } from '../math/quat';
import {
  writeSkinnedDeltas,
  writeSkinnedNormalDeltas,
  writeSkinnedNormals,
  writeSkinnedPositions,
  writeSkinnedTangents,
  type SkinInput,
} from './skin-kernel';

const quarter = compose([1, 0, 0], fromAxisAngle([0, 0, 1], Math.PI / 2), [1, 1, 1]);
const stretch = compose([0, 0, 0], [0, 0, 0, 1], [2, 1, 1]);
const mirror = compose([0, 0, 0], [0, 0, 0, 1], [1, 1, -1]);
const input = (...matrices: number[][]): SkinInput => ({
  matrices: matrices.flat(),
  joints: matrices.map((_, at) => at),
  weights: matrices.map(() => 1 / matrices.length),
  perVertex: matrices.length,
});
const run = (
  write: (out: Float32Array, from: number[], skin: SkinInput) => void,
  from: number[],
  skin: SkinInput,
): number[] => {
  const out = new Float32Array(from.length);
  write(out, from, skin);
  return [...out].map((value) => Math.round(value * 1e6) / 1e6 + 0);
};

describe('skin kernels', () => {
  it('carry a point with its joint', () => {
    expect(run(writeSkinnedPositions, [1, 0, 0], input(quarter))).toEqual([1, 1, 0]);
  });

  it('blend linearly between two joints', () => {
    expect(run(writeSkinnedPositions, [1, 0, 0], input(quarter, compose([0, 0, 0], [0, 0, 0, 1], [1, 1, 1])))).toEqual([
      1, 0.5, 0,
    ]);
  });

  it('turn normals by the inverse transpose: a stretched slope gets steeper, not flatter', () => {
    const k = Math.SQRT1_2;
    const [x, y] = run(writeSkinnedNormals, [k, k, 0], input(stretch));
    expect(x / y).toBeCloseTo(0.5, 5);
    expect(Math.hypot(x, y)).toBeCloseTo(1, 5);
  });

  it('turn the tangent over where the blend mirrors', () => {
    expect(run(writeSkinnedTangents, [1, 0, 0, 1], input(mirror))).toEqual([1, 0, 0, -1]);
  });

  it('move morph deltas without the translation', () => {
    expect(run(writeSkinnedDeltas, [1, 0, 0], input(quarter))).toEqual([0, 1, 0]);
  });

  it('give morph normals so that normal plus delta is the turned morphed normal', () => {
    const normal = [0, 1, 0];
    const delta = [1, -1, 0];
    const out = run((o, from, skin) => writeSkinnedNormalDeltas(o, from, normal, skin), delta, input(quarter));
    const turned = run(writeSkinnedNormals, normal, input(quarter));
    expect(turned.map((value, at) => value + out[at])).toEqual([0, 1, 0]);
  });
});
