import { describe, expect, it } from 'vitest';
import type { DrillFlag } from '@/core/drill/judge/judge-motion';
import { bandText, curvePath, lanesOf, nextFlag, valueText } from './lanes';

const measure = (name: string, values: readonly number[], band: readonly [number, number] | null = null) => ({
  name,
  unit: '%' as const,
  subject: name,
  bones: [],
  values: Float64Array.from(values),
  band,
});
const flag = (name: string, worstFrame: number): DrillFlag => ({
  measure: name,
  fromFrame: worstFrame,
  toFrame: worstFrame,
  worst: 9,
  worstFrame,
  limit: 4,
  unit: '%',
  bones: [],
  sentence: '',
  subject: '',
  cause: 'posture',
  harm: 1,
});

describe('lanes of the strip chart', () => {
  it('puts left and right in one row, with the flags of all that belongs to it', () => {
    const lanes = lanesOf(
      [measure('sink.left', [0, 1], [-4, Infinity]), measure('sink.right', [2, NaN], [-4, Infinity])],
      [flag('sole.left', 1), flag('slide.left', 0)],
    );
    expect(lanes).toHaveLength(1);
    expect(lanes[0].curves.map(({ side }) => side)).toEqual(['left', 'right']);
    expect(lanes[0].flags.map(({ measure: name }) => name)).toEqual(['sole.left']);
  });

  it('draws the greatest of many joints, and leaves out what has no value', () => {
    const lanes = lanesOf(
      [measure('jump.leftHand', [1, 5, NaN]), measure('jump.leftFoot', [3, 2, NaN]), measure('balance', [NaN, NaN])],
      [],
    );
    expect(lanes.map(({ id }) => id)).toEqual(['jumps']);
    expect([...lanes[0].curves[0].values]).toEqual([3, 5, 0]);
  });

  it('shows an end of the band that the curve comes near to, and not one that is far', () => {
    const [near] = lanesOf([measure('slide.left', [0, 2], [0, 3])], []);
    expect(near.range[1]).toBeGreaterThan(3);
    const [far] = lanesOf([measure('speed.hips', [0, 20], [0, 2500])], []);
    expect(far.range[1]).toBeLessThan(30);
  });

  it('keeps a spike of one frame however long the motion is, and leaves gaps', () => {
    const values = new Float64Array(10_000).fill(1);
    values[4321] = 9;
    expect(curvePath(values, [0, 10], { width: 200, height: 100 })).toContain(' 10.0');
    expect(curvePath(Float64Array.from([1, NaN, 1]), [0, 2], { width: 3, height: 10 }).match(/M/g)).toHaveLength(2);
  });

  it('says lengths in cm and angles in degrees', () => {
    expect(valueText(2, '%', 0.9)).toBe('1.8 cm');
    expect(valueText(-0.01, '%', 0.9)).toBe('0.0 cm');
    expect(valueText(12.34, '°', 0.9)).toBe('12.3°');
    expect(bandText([-4, 4], '%', 1)).toBe('±4.0 cm');
    expect(bandText([0, 3], '%', 1)).toBe('≤ 3.0 cm');
    expect(bandText([-5, 165], '°', 1)).toBe('-5.0° to 165.0°');
    expect(bandText([-3, Infinity], '%', 1)).toBe('≥ -3.0 cm');
  });

  it('goes to the next flag in time and round the end', () => {
    const flags = [flag('a', 40), flag('b', 10)];
    expect(nextFlag(flags, 10, 1)?.worstFrame).toBe(40);
    expect(nextFlag(flags, 40, 1)?.worstFrame).toBe(10);
    expect(nextFlag(flags, 10, -1)?.worstFrame).toBe(40);
    expect(nextFlag([], 3, 1)).toBeNull();
  });
});
