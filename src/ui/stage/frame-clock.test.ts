import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { frameClock } from './frame-clock';

let frames: (() => void)[] = [];
beforeEach(() => {
  frames = [];
  vi.stubGlobal('requestAnimationFrame', (call: () => void) => frames.push(call));
});
afterEach(() => vi.unstubAllGlobals());

const runFrame = () => frames.splice(0).forEach((call) => call());

it('draws each wish once in a frame, and those made meanwhile in the next', () => {
  const drawn: string[] = [];
  const again = () => {
    drawn.push('again');
    if (drawn.length < 3) frameClock.request(again);
  };
  const other = () => drawn.push('other');
  frameClock.request(again);
  frameClock.request(other);
  frameClock.request(again);
  expect(frames).toHaveLength(1);
  runFrame();
  expect(drawn).toEqual(['again', 'other']);
  runFrame();
  expect(drawn).toEqual(['again', 'other', 'again']);
  expect(frames).toHaveLength(0);
});

it('leaves out who is gone by then', () => {
  const draw = vi.fn();
  frameClock.request(draw);
  frameClock.cancel(draw);
  runFrame();
  expect(draw).not.toHaveBeenCalled();
});
