import { describe, expect, it } from 'vitest';
import type { DrillBlock } from '@/workers/browser/drill.worker';
import { Player, type PlayState } from './player';

/** A player with a clock and a screen of its own: time passes and frames are asked for when a test says so. */
function playerOf(frameCount: number, start: Partial<PlayState> = {}, { holdsBack = false, fails = false } = {}) {
  const shown: number[] = [];
  const fetched: number[] = [];
  const waiting: (() => void)[] = [];
  let due: (() => void) | null = null;
  let now = 1000;
  const block = (from: number, count: number): DrillBlock => ({
    from,
    count,
    figures: [],
    source: new Float32Array(0),
  });
  const player = new Player(frameCount, 30, start, {
    fetch: (from, count) => {
      fetched.push(from);
      if (fails) return Promise.reject(new Error('the worker fell over'));
      return new Promise((resolve) => {
        const answer = () => resolve(block(from, count));
        if (holdsBack) waiting.push(answer);
        else answer();
      });
    },
    draw: ({ frame, at, block: { from } }) => {
      expect(at).toBe(frame - from);
      shown.push(frame);
    },
    changed: () => undefined,
    request: (callback) => {
      due = callback;
    },
    now: () => now,
  });
  const settle = () => new Promise((resolve) => setTimeout(resolve, 0));
  return {
    player,
    shown,
    fetched,
    settle,
    answer: () => waiting.splice(0).forEach((each) => each()),
    /** The screen draws so much later. */
    tick: (milliseconds: number) => {
      now += milliseconds;
      const callback = due;
      due = null;
      callback?.();
    },
  };
}

describe('playing', () => {
  it('goes by the time that has passed, and leaves frames out on a slow screen', async () => {
    const { player, shown, settle, tick } = playerOf(100);
    await settle();
    player.play();
    tick(34);
    tick(100);
    tick(34);
    expect(shown).toEqual([0, 1, 4, 5]);
    player.setSpeed(0.5);
    tick(67);
    expect(shown.at(-1)).toBe(6);
    player.pause();
    tick(500);
    expect(shown.at(-1)).toBe(6);
  });

  it('loops within its range, or stops at the end of it', async () => {
    const { player, settle, tick } = playerOf(100, { range: { from: 10, to: 14 } });
    await settle();
    player.play();
    tick(5 * 34);
    expect(player.current.frame).toBe(10);
    player.setLooping(false);
    tick(1000);
    expect(player.current).toMatchObject({ frame: 14, isPlaying: false });
    // Played again from its start.
    player.play();
    tick(1);
    expect(player.current).toMatchObject({ frame: 10, isPlaying: true });
  });

  it('waits for frames that are not there yet, and time with it', async () => {
    const { player, shown, settle, answer, tick } = playerOf(400, { frame: 120 }, { holdsBack: true });
    answer();
    await settle();
    player.play();
    tick(34 * 10);
    tick(34 * 100);
    expect(shown).toEqual([120]);
    answer();
    await settle();
    tick(34);
    expect(shown.at(-1)).toBeGreaterThan(127);
    expect(shown.at(-1)).toBeLessThan(135);
  });

  it('fetches the next frames before they are due, and each only once', async () => {
    const { player, fetched, settle, tick } = playerOf(1000);
    await settle();
    player.play();
    for (let at = 0; at < 20; at++) tick(34);
    await settle();
    expect(fetched).toEqual([0, 128]);
  });
});

describe('stepping', () => {
  it('stops, and goes over the ends where it loops', async () => {
    const { player, settle } = playerOf(50, { range: { from: 5, to: 9 } });
    await settle();
    player.seek(9);
    player.step(1);
    expect(player.current.frame).toBe(5);
    player.step(-1);
    expect(player.current.frame).toBe(9);
    player.setLooping(false);
    player.step(10);
    expect(player.current.frame).toBe(19);
    player.step(-100);
    expect(player.current.frame).toBe(0);
  });

  it('holds what it starts with to the motion', async () => {
    const { player } = playerOf(20, { frame: 500, range: { from: 3, to: 90 } });
    expect(player.current).toMatchObject({ frame: 19, range: { from: 3, to: 19 } });
    player.setRange({ from: 15, to: 2 });
    expect(player.current.range).toEqual({ from: 2, to: 15 });
  });

  it('does not ask a worker that fails at every frame of the screen: after pauses, and then no more', async () => {
    const { player, fetched, tick, settle } = playerOf(300, {}, { fails: true });
    await settle();
    player.play();
    for (let frame = 0; frame < 1_200; frame++) {
      tick(16);
      await settle();
    }
    expect(fetched).toHaveLength(4);
    expect(player.current.isPlaying).toBe(false);
    player.seek(5);
    await settle();
    expect(fetched).toHaveLength(5);
  });
});
