import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  bindLoose,
  moveOrFollow,
  moveWeights,
  normaliseWeights,
  pruneWeights,
  reduceInfluences,
  type WeightTable,
} from './mend-weights';

const table = (rows: readonly (readonly (readonly [number, number])[])[]): WeightTable => {
  const perVertex = rows[0].length;
  return {
    perVertex,
    joints: Uint16Array.from(rows.flat(), ([joint]) => joint),
    weights: Float32Array.from(rows.flat(), ([, weight]) => weight),
  };
};
const sums = ({ perVertex, weights }: WeightTable): number[] =>
  Array.from({ length: weights.length / perVertex }, (_, vertex) =>
    weights.subarray(vertex * perVertex, (vertex + 1) * perVertex).reduce((a, b) => a + b, 0),
  );
const randomTable = fc
  .array(fc.array(fc.tuple(fc.nat(9), fc.float({ min: 0, max: 1, noNaN: true })), { minLength: 8, maxLength: 8 }), {
    minLength: 1,
    maxLength: 12,
  })
  .map(table);

describe('weights', () => {
  it('are moved to a partner at the vertices that are meant, and added to what it holds there already', () => {
    const own = table([
      [
        [1, 0.5],
        [2, 0.5],
      ],
      [
        [1, 0.25],
        [3, 0.75],
      ],
    ]);
    moveWeights(own, new Map([[1, 2]]), (vertex) => vertex === 0);
    expect([...own.weights]).toEqual([0, 1, 0.25, 0.75]);
    expect([...own.joints]).toEqual([0, 2, 1, 3]);
  });

  it('taken from the root go to the hips where these move what is near, and follow the nearest vertex elsewhere', () => {
    const [root, hips, hand] = [0, 1, 2];
    const own = table([
      [
        [hips, 1],
        [0, 0],
      ],
      [
        [hand, 1],
        [0, 0],
      ],
      [
        [root, 1],
        [0, 0],
      ],
      [
        [root, 1],
        [0, 0],
      ],
      [
        [root, 0.4],
        [hand, 0.6],
      ],
    ]);
    const places = Float32Array.of(0, 1, 0, 0.7, 1.4, 0, 0.1, 1, 0, 0.68, 1.4, 0, 0.72, 1.4, 0);
    moveOrFollow(own, new Map([[root, hips]]), places);
    const weightOf = (vertex: number, joint: number): number =>
      [0, 1].reduce(
        (sum, slot) => sum + (own.joints[vertex * 2 + slot] === joint ? own.weights[vertex * 2 + slot] : 0),
        0,
      );
    expect(weightOf(2, hips)).toBe(1);
    expect([weightOf(3, hips), weightOf(3, hand)]).toEqual([0, 1]);
    expect([weightOf(4, hips), weightOf(4, hand)]).toEqual([0, Math.fround(0.6)]);
    // Where there is nothing but the root's, all of it is the hips'.
    const whole = table([[[root, 1]], [[root, 1]]]);
    moveOrFollow(whole, new Map([[root, hips]]), Float32Array.of(0, 0, 0, 1, 1, 1));
    expect([...whole.joints]).toEqual([hips, hips]);
  });

  it('that are pruned leave the strongest of each vertex', () => {
    const own = table([
      [
        [1, 0.004],
        [2, 0.003],
      ],
      [
        [1, 0.99],
        [2, 0.01],
      ],
    ]);
    pruneWeights(own, 0.02);
    normaliseWeights(own);
    expect([...own.weights]).toEqual([1, 0, 1, 0]);
  });

  it('that are reduced keep the strongest, add up to 1, and are reduced once for all', () => {
    fc.assert(
      fc.property(randomTable, (own) => {
        const before = own.weights.slice();
        reduceInfluences(own, 4);
        for (let first = 0; first < own.weights.length; first += 8) {
          const kept = [...own.weights.subarray(first, first + 8)].filter((weight) => weight > 0);
          const all = [...before.subarray(first, first + 8)].filter((weight) => weight > 0).sort((a, b) => b - a);
          expect(kept.sort((a, b) => b - a)).toEqual(all.slice(0, 4));
        }
        normaliseWeights(own);
        for (const sum of sums(own)) expect(sum === 0 || Math.abs(sum - 1) < 1e-5).toBe(true);
        const once = own.weights.slice();
        reduceInfluences(own, 4);
        normaliseWeights(own);
        own.weights.forEach((weight, at) => expect(weight).toBeCloseTo(once[at], 6));
      }),
    );
  });

  it('of a vertex without any are those of its nearest, also where its place is no number', () => {
    const own = table([
      [
        [1, 1],
        [0, 0],
      ],
      [
        [0, 0],
        [0, 0],
      ],
      [
        [2, 0.5],
        [3, 0.5],
      ],
      [
        [0, 0],
        [0, 0],
      ],
    ]);
    bindLoose(own, Float32Array.from([0, 0, 0, 9, 0, 0, 10, 0, 0, NaN, 0, 0]));
    expect([...own.joints.subarray(2, 4)]).toEqual([2, 3]);
    expect(sums(own)).toEqual([1, 1, 1, 1]);
  });
});
