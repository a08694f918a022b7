import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mapWeights, triangulate, type MapNode } from './live-map';

const node = (key: string, side: number, ahead: number): MapNode => ({ key, side, ahead });
const MAP = [
  node('idle', 0, 0),
  node('walk', 0, 1.3),
  node('run', 0, 3.2),
  node('left', 0.45, 0),
  node('right', -0.45, 0),
  node('back', 0, -0.8),
];
const triangles = triangulate(MAP);
const at = (side: number, ahead: number) => mapWeights(MAP, triangles, side, ahead);

describe('the map of motions', () => {
  it('plays a motion alone where it stands', () => {
    MAP.forEach(({ side, ahead }, each) => expect(at(side, ahead)[each]).toBeCloseTo(1, 4));
  });

  it('within it the weighted speeds come to the speed that is asked for', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...triangles),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        ([i, j, k], u, v) => {
          const [a, b] = u + v > 1 ? [1 - u, 1 - v] : [u, v];
          const mix = (of: (node: MapNode) => number) => of(MAP[i]) * a + of(MAP[j]) * b + of(MAP[k]) * (1 - a - b);
          const [side, ahead] = [mix((each) => each.side), mix((each) => each.ahead)];
          const weights = at(side, ahead);
          expect(weights.reduce((sum, weight) => sum + weight, 0)).toBeCloseTo(1, 9);
          expect(weights.reduce((sum, weight, each) => sum + weight * MAP[each].side, 0)).toBeCloseTo(side, 4);
          expect(weights.reduce((sum, weight, each) => sum + weight * MAP[each].ahead, 0)).toBeCloseTo(ahead, 4);
        },
      ),
    );
  });

  it('beyond the map the nearest edge counts', () => {
    const fast = at(0, 9);
    expect(fast[2]).toBeCloseTo(1, 9);
    expect([...at(3, -3)].every((weight) => weight >= 0)).toBe(true);
  });

  it('covers four motions on one circle once', () => {
    const square = [node('a', 1, 1), node('b', -1, 1), node('c', -1, -1), node('d', 1, -1)];
    expect(triangulate(square)).toHaveLength(2);
  });

  it('does with motions on a line, and with one', () => {
    const line = [node('a', 0, 0), node('b', 0, 2)];
    expect([...mapWeights(line, triangulate(line), 0, 0.5)]).toEqual([0.75, 0.25]);
    expect([...mapWeights([line[0]], [], 1, 1)]).toEqual([1]);
  });
});
