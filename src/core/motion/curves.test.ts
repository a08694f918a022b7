import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fromAxisAngle, multiply } from '../math/quat';
import { computeHeadings } from './heading';
import { lowPass } from './low-pass';

const RATE = 60;
const sine = (hertz: number, frames: number) =>
  Float64Array.from({ length: frames }, (_, frame) => Math.sin((2 * Math.PI * hertz * frame) / RATE));
const swingOf = (values: Float64Array) => Math.max(...values) - Math.min(...values);

describe('headings', () => {
  it('run on over half turns and full ones, whatever lean and sign the turns have', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -0.15, max: 0.15, noNaN: true }),
        fc.double({ min: -1, max: 1, noNaN: true }),
        (step, lean) => {
          const count = 120;
          const turns = Float32Array.from(
            Array.from({ length: count }, (_, frame) => {
              const turn = multiply(fromAxisAngle([0, 1, 0], step * frame), fromAxisAngle([1, 0, 0], lean));
              return frame % 3 === 0 ? turn.map((value) => -value) : [...turn];
            }).flat(),
          );
          const headings = computeHeadings(turns, 0, 4, count);
          headings.forEach((heading, frame) => expect(heading).toBeCloseTo(step * frame, 3));
        },
      ),
    );
  });

  it('stay what they were while a figure stands on its head', () => {
    const upsideDown = fromAxisAngle([1, 0, 0], Math.PI);
    const turns = Float32Array.from([
      ...fromAxisAngle([0, 1, 0], 0.4),
      ...upsideDown,
      ...fromAxisAngle([0, 1, 0], 0.5),
    ]);
    expect([...computeHeadings(turns, 0, 4, 3)].map((value) => Math.round(value * 1e4) / 1e4)).toEqual([0.4, 0.4, 0.5]);
  });
});

describe('the low-pass', () => {
  it('leaves half of the amplitude at its cut-off, nearly all below and nearly nothing above', () => {
    const middle = (values: Float64Array) => values.subarray(120, 480);
    expect(swingOf(middle(lowPass(sine(3, 600), 3, RATE))) / 2).toBeCloseTo(0.5, 1);
    expect(swingOf(middle(lowPass(sine(0.3, 600), 3, RATE))) / 2).toBeGreaterThan(0.99);
    expect(swingOf(middle(lowPass(sine(15, 600), 3, RATE))) / 2).toBeLessThan(0.01);
  });

  it('shifts nothing in time and keeps the ends and straight lines', () => {
    const line = Float64Array.from({ length: 100 }, (_, frame) => 0.3 * frame - 4);
    lowPass(line, 2, RATE).forEach((value, frame) => expect(value).toBeCloseTo(line[frame], 5));
    const bump = Float64Array.from({ length: 201 }, (_, frame) => Math.exp(-(((frame - 100) / 12) ** 2)));
    const smooth = lowPass(bump, 2, RATE);
    expect(smooth.indexOf(Math.max(...smooth))).toBe(100);
  });

  it('takes a cut-off above half the rate as none, and refuses one that is none', () => {
    const values = sine(2, 50);
    expect([...lowPass(values, 31, RATE)]).toEqual([...values]);
    expect(() => lowPass(values, 0, RATE)).toThrow(RangeError);
  });
});
