import { describe, expect, it } from 'vitest';
import type { HandoffPlan } from '../../plan/handoff-plan';
import { checkDrillFlags } from './drill-flags';

const WALK = {
  motionKey: 'house-walk',
  motion: 'Walk',
  count: 3,
  worst: { frame: 12, sentence: 'Frame 12: left sole, while it bears is 2.0 % of the leg, allowed 1.0 %.' },
};
const planWith = (drill?: HandoffPlan['drill']) => ({ drill }) as HandoffPlan;

describe('flags of the drill as findings', () => {
  it('are one caution for a motion, with the frame to go to', () => {
    const [found, ...more] = checkDrillFlags(planWith([WALK, { ...WALK, motion: 'Idle', count: 0 }]));
    expect(more).toEqual([]);
    expect(found).toMatchObject({
      severity: 'caution',
      measured: '3 flags',
      amount: { measured: 3, allowed: 0, unit: 'flags' },
      moment: { motion: 'house-walk', frame: 12 },
    });
    expect(found.sentence).toMatch(/^Walk, frame 12: .* And 2 more flags\.$/);
  });

  it('are none where nothing was carried', () => {
    expect(checkDrillFlags(planWith())).toEqual([]);
  });
});
