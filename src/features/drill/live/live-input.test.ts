import { expect, it } from 'vitest';
import { inputOfKeys, inputOfPad, liveKey } from './live-input';

it('keys ask for speeds; opposite ones come to nothing', () => {
  expect(inputOfKeys(new Set(['ArrowUp']), false).ahead).toBeCloseTo(1.3);
  expect(inputOfKeys(new Set(['ArrowUp']), true).ahead).toBeGreaterThan(3);
  expect(inputOfKeys(new Set(['ArrowLeft', 'ArrowRight']), false).turn).toBe(0);
  expect(inputOfKeys(new Set([',', 'k']), false)).toMatchObject({ side: 0.45, isCrouched: true });
});

it('a key means the same with Shift', () => {
  expect([',', '<', ';', '.', '>', 'J', 'x'].map(liveKey)).toEqual([',', ',', ',', '.', '.', 'j', null]);
});

it('a gamepad at rest asks for nothing, half a stick walks and a whole one runs', () => {
  const pad = (axes: number[], pressed: number[] = []) => ({
    axes,
    buttons: [0, 1].map((at) => ({ pressed: pressed.includes(at) })),
  });
  expect(inputOfPad(pad([0.05, -0.1, 0]))).toBeNull();
  expect(inputOfPad(pad([0, -0.5, 0]))?.ahead).toBeCloseTo(1.3);
  expect(inputOfPad(pad([0, -1, 0]))?.ahead).toBeCloseTo(3.2);
  expect(inputOfPad(pad([0, 1, 0]))?.ahead).toBeCloseTo(-0.8);
  expect(inputOfPad(pad([0, 0, 0], [0]))?.isJumping).toBe(true);
});
