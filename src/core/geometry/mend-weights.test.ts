import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  bindLoose,
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
