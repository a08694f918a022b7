import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compose, decompose, invertAffine, multiply as multiplyMat, transformPoint } from './mat4';
import {
  angleOf,
  conjugate,
  fromAxes,
  fromAxisAngle,
  multiply,
  normalise,
  rotate,
  shortestArc,
  slerp,
  twistAngle,
  type Quat,
} from './quat';
import { angleBetween, distance, normalise as unit, type Vec3 } from './vec3';

const number = fc.double({ min: -1, max: 1, noNaN: true });
const vector = fc.tuple(number, number, number).filter((v) => Math.hypot(...v) > 0.1) as fc.Arbitrary<Vec3>;
const quaternion = fc
  .tuple(number, number, number, number)
  .filter((q) => Math.hypot(...q) > 0.1)
  .map((q) => normalise(q as unknown as Quat));
const close = (a: readonly number[], b: readonly number[], tolerance = 1e-9) =>
  a.forEach((value, at) => expect(Math.abs(value - b[at])).toBeLessThan(tolerance));

describe('quaternions', () => {
  it('q and -q are one rotation', () => {
    fc.assert(
      fc.property(quaternion, vector, (q, v) => {
        const negative = q.map((value) => -value) as unknown as Quat;
        close(rotate(q, v), rotate(negative, v));
        expect(angleOf(q)).toBeCloseTo(angleOf(negative), 9);
      }),
    );
  });

  it('the conjugate turns back', () => {
    fc.assert(fc.property(quaternion, vector, (q, v) => close(rotate(conjugate(q), rotate(q, v)), v)));
  });

  it('the shortest arc arrives, also for opposite directions', () => {
    fc.assert(
      fc.property(vector, vector, (a, b) => {
        expect(angleBetween(rotate(shortestArc(a, b), a), b)).toBeLessThan(1e-6);
      }),
    );
    const hinge: Vec3 = [0, 0, 1];
    const half = shortestArc([1, 0, 0], [-1, 0, 0], hinge);
    close(rotate(half, [1, 0, 0]), [-1, 0, 0]);
    close(rotate(half, hinge), hinge);
  });

  it('axes make the rotation that takes X, Y, Z onto them', () => {
    fc.assert(
      fc.property(quaternion, (q) => {
        const back = fromAxes(rotate(q, [1, 0, 0]), rotate(q, [0, 1, 0]), rotate(q, [0, 0, 1]));
        expect(angleOf(multiply(conjugate(q), back))).toBeLessThan(1e-6);
      }),
    );
  });

  it('slerp ends where it should and takes the shorter way', () => {
    fc.assert(
      fc.property(quaternion, quaternion, (a, b) => {
        expect(angleOf(multiply(conjugate(a), slerp(a, b, 0)))).toBeLessThan(1e-6);
        expect(angleOf(multiply(conjugate(b), slerp(a, b, 1)))).toBeLessThan(1e-6);
        expect(angleOf(multiply(conjugate(a), slerp(a, b, 0.5)))).toBeCloseTo(
          angleOf(multiply(conjugate(a), b)) / 2,
          6,
        );
      }),
    );
  });

  it('the twist about an axis is the angle it was made with', () => {
    fc.assert(
      fc.property(vector, fc.double({ min: -3, max: 3, noNaN: true }), (v, angle) => {
        const axis = unit(v) as Vec3;
        expect(twistAngle(fromAxisAngle(axis, angle), axis)).toBeCloseTo(angle, 9);
      }),
    );
  });
});

describe('matrices', () => {
  const scale = fc.double({ min: 0.1, max: 10, noNaN: true });
  it('decompose undoes compose', () => {
    fc.assert(
      fc.property(vector, quaternion, scale, scale, scale, (t, r, x, y, z) => {
        const { translation, rotation, scale: s, shear } = decompose(compose(t, r, [x, y, z]));
        close(translation, t);
        expect(angleOf(multiply(conjugate(r), rotation))).toBeLessThan(1e-6);
        close(s, [x, y, z], 1e-8);
        expect(shear).toBeLessThan(1e-9);
      }),
    );
  });

  it('reports shear and a mirror instead of hiding them', () => {
    const sheared = multiplyMat(
      compose([0, 0, 0], [0, 0, 0, 1], [2, 1, 1]),
      compose([0, 0, 0], fromAxisAngle([0, 0, 1], 0.7), [1, 1, 1]),
    );
    expect(decompose(sheared).shear).toBeGreaterThan(0.3);
    expect(decompose(compose([0, 0, 0], [0, 0, 0, 1], [1, 1, -1])).scale[2]).toBe(-1);
  });

  it('the inverse brings a point back, and a flat matrix has none', () => {
    fc.assert(
      fc.property(vector, quaternion, scale, vector, (t, r, s, point) => {
        const matrix = compose(t, r, [s, s, s]);
        expect(
          distance(transformPoint(invertAffine(matrix) as number[], transformPoint(matrix, point)), point),
        ).toBeLessThan(1e-8);
      }),
    );
    expect(invertAffine(compose([0, 0, 0], [0, 0, 0, 1], [1, 0, 1]))).toBeNull();
  });
});
