import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lengthText, ruleMarks } from './rule-marks';

const texts = (height: number, pixels: number) => ruleMarks(height, pixels / height).map(({ text }) => text);

describe('the rule beside a figure', () => {
  it('counts in metres, centimetres or millimetres, as the figure and the screen ask for', () => {
    expect(texts(1.8, 250)).toEqual(['0.0 m', '0.5 m', '1.0 m', '1.5 m', '2.0 m']);
    expect(texts(68, 200)).toEqual(['0 m', '20 m', '40 m', '60 m', '80 m']);
    expect(texts(0.35, 300)).toEqual(['0.0 m', '0.1 m', '0.2 m', '0.3 m', '0.4 m']);
    expect(texts(0.007, 300)).toEqual(['0 mm', '2 mm', '4 mm', '6 mm', '8 mm']);
    expect(texts(0.2, 300)).toEqual(['0 cm', '5 cm', '10 cm', '15 cm', '20 cm']);
  });

  it('leaves room between marks, reaches the crown and goes no further than it must, whatever the size', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1e-4, max: 1e4, noNaN: true }),
        fc.integer({ min: 60, max: 2000 }),
        (height, pixels) => {
          const marks = ruleMarks(height, pixels / height);
          const step = marks[1].metres;
          expect((step / height) * pixels).toBeGreaterThanOrEqual(43.9);
          expect(marks[0].metres).toBe(0);
          expect(marks[marks.length - 1].metres).toBeGreaterThanOrEqual(height * (1 - 1e-6));
          expect(marks[marks.length - 1].metres).toBeLessThanOrEqual(height + step * (1 + 1e-6));
          expect(new Set(marks.map(({ text }) => text)).size).toBe(marks.length);
        },
      ),
    );
  });

  it('says nothing where there is nothing to measure', () => {
    for (const [height, pixels] of [
      [0, 100],
      [1, 0],
      [Number.NaN, 100],
      [1, Infinity],
    ])
      expect(ruleMarks(height, pixels)).toEqual([]);
  });

  it('writes lengths with the digits they need', () => {
    expect([1.692, 68.31, 0.35, 0.007].map(lengthText)).toEqual(['1.69 m', '68.3 m', '35.0 cm', '7.0 mm']);
  });
});
