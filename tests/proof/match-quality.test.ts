import { describe, expect, it } from 'vitest';
import { runBench } from '../../bench/match/bench';

/** Two rigs per topology and naming habit of the tuning part: the bench in small, so that no change makes it worse unseen. */
describe('the matcher on generated rigs', () => {
  const groups = runBench({ perCell: 2, parts: ['tuning'] });
  const named = groups.get('tuning named')!;
  const opaque = groups.get('tuning opaque')!;

  it('reads every rig with meaningful names right, nearly all of it without a doubt', () => {
    expect(named.rigs).toBeGreaterThan(80);
    expect(named.right / named.truthRoles).toBe(1);
    expect(named.wrongSure).toBe(0);
    expect(named.extra).toBe(0);
    expect(named.rightDoubtful / named.right).toBeLessThan(0.01);
    expect(named.sparesRight / named.spares).toBeGreaterThan(0.99);
  });

  it('reads rigs without names nearly as well, and is hardly ever wrong and sure', () => {
    expect(opaque.rigs).toBeGreaterThan(25);
    expect(opaque.kindRight).toBe(opaque.rigs);
    expect(opaque.right / opaque.truthRoles).toBeGreaterThan(0.98);
    expect(opaque.wrongSure / opaque.truthRoles).toBeLessThan(0.002);
    expect(opaque.rightDoubtful / opaque.right).toBeLessThan(0.1);
    expect(opaque.swaps).toBe(0);
    expect(opaque.sparesRight / opaque.spares).toBeGreaterThan(0.75);
  });

  it('is as sure as it is right', () => {
    expect(named.calibration()).toBeLessThan(0.02);
    expect(opaque.calibration()).toBeLessThan(0.05);
    expect(opaque.brier / opaque.answers).toBeLessThan(0.015);
  });
});
