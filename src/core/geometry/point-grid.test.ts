import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PointGrid } from './point-grid';

/** Looks at all. */
function plainNearest(places: ArrayLike<number>, points: readonly number[], point: number): number {
  let [nearest, least] = [-1, Infinity];
  for (const other of points) {
    const away = [0, 1, 2].reduce((sum, axis) => sum + (places[other * 3 + axis] - places[point * 3 + axis]) ** 2, 0);
    if (away < least) [least, nearest] = [away, other];
  }
  return nearest;
}

describe('points by the cells of a grid', () => {
  it('give the nearest that looking at all gives, whatever lies where', () => {
    const coordinate = fc.oneof(
      fc.integer({ min: -3, max: 3 }),
      fc.double({ min: -100, max: 100, noNaN: true }),
      fc.constant(NaN),
    );
    const place = fc.tuple(coordinate, coordinate, fc.oneof(coordinate, fc.constant(0)));
    fc.assert(
      fc.property(fc.array(place, { minLength: 1, maxLength: 60 }), fc.nat(), (all, seed) => {
        const places = Float64Array.from(all.flat());
        const points = all.map((_, at) => at).filter((at) => (at * 7 + seed) % 3 > 0);
        const grid = new PointGrid(places, points);
        for (let point = 0; point < all.length; point++)
          expect(grid.nearestTo(point)).toBe(plainNearest(places, points, point));
      }),
      { numRuns: 300 },
    );
  });

  it('look at few of many: ten thousand on a sheet, a third of them loose', () => {
    const count = 10_000;
    let looked = 0;
    const values = Float64Array.from(
      { length: count * 3 },
      (_, at) => Math.sin(at * 12.9898) * (at % 3 === 2 ? 0.01 : 1),
    );
    const places = new Proxy(values, {
      get: (target, key) => {
        looked++;
        return Reflect.get(target, key) as unknown;
      },
    });
    const points = Array.from({ length: count }, (_, at) => at).filter((at) => at % 3 > 0);
    const grid = new PointGrid(places, points);
    const before = looked;
    for (let point = 0; point < 600; point += 3) grid.nearestTo(point);
    // Of each question: looking at all would be 20,000 readings.
    expect((looked - before) / 200).toBeLessThan(5_000);
  });
});
