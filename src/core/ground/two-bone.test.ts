import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fromAxisAngle, rotate } from '../math/quat';
import { add, cross, distance, dot, normalise, scale, subtract, type Vec3 } from '../math/vec3';
import { reachFor, reachOf, type LimbPlaces } from './two-bone';

/** A leg that is bent so far about +X (knee ahead), with its top at 1 m. */
const legOf = (bendDeg: number): LimbPlaces => {
  const top: Vec3 = [0, 1, 0];
  const bend = (bendDeg * Math.PI) / 180;
  const thigh = rotate(fromAxisAngle([1, 0, 0], -bend / 2), [0, -0.45, 0]);
  const shin = rotate(fromAxisAngle([1, 0, 0], bend / 2), [0, -0.42, 0]);
  return { top, middle: add(top, thigh), end: add(add(top, thigh), shin) };
};
const HINGE: Vec3 = [1, 0, 0];

function led(limb: LimbPlaces, wanted: Vec3) {
  const { upper, lower } = reachFor(limb, wanted, HINGE);
  const middle = add(limb.top, rotate(upper, subtract(limb.middle, limb.top)));
  return { middle, end: add(middle, rotate(lower, subtract(limb.end, limb.middle))) };
}

describe('leading a limb of two bones', () => {
  it('comes to any place in reach, with its lengths, and keeps the way the knee points', () => {
    const near = fc.double({ min: -0.12, max: 0.12, noNaN: true });
    fc.assert(
      fc.property(fc.double({ min: 12, max: 110, noNaN: true }), near, near, near, (bend, x, y, z) => {
        const limb = legOf(bend);
        const wanted = add(limb.end, [x, y, z]);
        fc.pre(distance(limb.top, wanted) < reachOf(limb) && distance(limb.top, wanted) > 0.2);
        const { middle, end } = led(limb, wanted);
        expect(distance(end, wanted)).toBeLessThan(1e-5);
        expect(distance(middle, limb.top)).toBeCloseTo(0.45, 9);
        expect(distance(end, middle)).toBeCloseTo(0.42, 9);
        const across = cross(subtract(middle, limb.top), subtract(end, middle));
        // The leg as a whole turns to the side with the place; the knee still folds forward.
        expect(dot(normalise(across) ?? [0, 0, 0], HINGE)).toBeGreaterThan(0.8);
      }),
      { numRuns: 300 },
    );
  });

  it('bends a straight leg about the hinge of its role, not about noise', () => {
    const limb = legOf(0);
    const { middle } = led(limb, [0, 0.4, 0]);
    expect(middle[0]).toBeCloseTo(0, 9);
    expect(middle[2]).toBeGreaterThan(0.1);
  });

  it('goes as far as it can towards a place out of reach, and slows before that', () => {
    const limb = legOf(40);
    const far = led(limb, [0, -1, 0.3]);
    const way = normalise(subtract([0, -1, 0.3], limb.top)) as Vec3;
    const reached = subtract(far.end, limb.top);
    expect(distance(reached, scale(way, dot(reached, way)))).toBeLessThan(1e-6);
    expect(dot(reached, way)).toBeLessThan(0.87);
    expect(dot(reached, way)).toBeGreaterThan(0.85);
    // No corner: what one more millimetre is asked for adds less and less.
    const ends = Array.from({ length: 60 }, (_, step) => 1 - led(limb, [0, 0.16 - step / 1000, 0]).end[1]);
    const steps = ends.slice(1).map((end, at) => end - ends[at]);
    for (const [at, step] of steps.slice(1).entries()) expect(step).toBeLessThan(steps[at] + 1e-6);
    expect(Math.max(...steps.slice(1).map((step, at) => steps[at] - step))).toBeLessThan(3e-4);
  });

  it('leaves a leg that is where it is asked to be', () => {
    const limb = legOf(30);
    const { upper, lower } = reachFor(limb, limb.end, HINGE);
    for (const turn of [upper, lower]) expect(Math.abs(turn[3])).toBeCloseTo(1, 10);
  });
});
