import { describe, expect, it } from 'vitest';
import { wayNumbers, wayPlace } from './root-way';

/** A leap of 2 m that rises 0.4 m and turns by a half. */
const WAY = Float32Array.from([0, 0, 0, 0, 0.5, 0.4, 1, Math.PI / 2, 0, 0, 2, Math.PI]);

describe('the way of a root', () => {
  it('stays in the components that it does not take over', () => {
    expect(wayPlace(WAY, 1, ['horizontal'])).toEqual([0.5, 0, 1]);
    expect(wayPlace(WAY, 1, ['vertical'])[1]).toBeCloseTo(0.4, 6);
    expect(wayPlace(WAY, 1, [])).toEqual([0, 0, 0]);
  });

  it('says how long, how far round and how high', () => {
    const all = wayNumbers(WAY, ['horizontal', 'vertical', 'turn']);
    expect(all.lengthMetres).toBeCloseTo(2 * Math.hypot(0.5, 1), 6);
    expect(all.turnDeg).toBeCloseTo(180, 4);
    expect(all.riseMetres).toBeCloseTo(0.4, 6);
    expect(wayNumbers(WAY, ['horizontal'])).toMatchObject({ turnDeg: 0, riseMetres: 0 });
  });
});
