import { describe, expect, it } from 'vitest';
import { bytesText, centimetresText, degreesText, percentText, shortenMiddle } from './text';

it('rounds a share, but never up to a certainty', () => {
  expect([0, 0.004, 0.5, 0.994, 0.995, 0.9999, 1].map(percentText)).toEqual([
    '0 %',
    '0 %',
    '50 %',
    '99 %',
    '> 99 %',
    '> 99 %',
    '100 %',
  ]);
});

describe('texts', () => {
  it('shorten in the middle, so that family and number stay', () => {
    expect(shortenMiddle('upper_arm_twist_03', 11)).toBe('upper…st_03');
    expect(shortenMiddle('hand', 11)).toBe('hand');
    for (const most of [3, 8, 15]) expect(shortenMiddle('a_very_long_bone_name_indeed', most)).toHaveLength(most);
  });

  it('say numbers with units', () => {
    expect(degreesText(Math.PI / 4)).toBe('45.0°');
    expect(centimetresText(0.018)).toBe('1.8 cm');
    expect(percentText(0.624)).toBe('62 %');
    expect([bytesText(12), bytesText(365_000), bytesText(3_500_000)]).toEqual(['12 B', '356 KB', '3.3 MB']);
  });
});
