import { expect, it } from 'vitest';
import { evidenceOf } from './evidence';

const band = [-4, 4] as const;

it('an error that is the same in every frame speaks for the posture', () => {
  const values = Float64Array.from({ length: 100 }, (_, frame) => 9 + Math.sin(frame) * 0.5);
  expect(evidenceOf({ values, band })).toMatchObject({ out: 100, frames: 100, isConstant: true });
});

it('one that comes and goes speaks for a layer', () => {
  const values = Float64Array.from({ length: 100 }, (_, frame) => (frame > 40 && frame < 52 ? 9 : 0));
  expect(evidenceOf({ values, band })).toMatchObject({ out: 11, isConstant: false });
  const wide = Float64Array.from({ length: 100 }, (_, frame) => 5 + frame);
  expect(evidenceOf({ values: wide, band })?.isConstant).toBe(false);
});

it('says nothing of what was not taken or has no band', () => {
  expect(evidenceOf({ values: Float64Array.from([NaN, NaN]), band })).toBeNull();
  expect(evidenceOf({ values: Float64Array.from([1]), band: null })).toBeNull();
});
