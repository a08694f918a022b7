import type { Check } from '../finding';

/** What the drill flagged in motions that were carried to the character as it stands. */
export const checkDrillFlags: Check = ({ drill = [] }) =>
  drill
    .filter(({ count }) => count > 0)
    .map(({ motionKey, motion, count, worst }) => ({
      aspect: 'flags',
      severity: 'caution',
      sentence: `${motion}, ${worst.sentence[0].toLowerCase()}${worst.sentence.slice(1)}${count > 1 ? ` And ${count - 1} more ${count === 2 ? 'flag' : 'flags'}.` : ''}`,
      measured: `${count} ${count === 1 ? 'flag' : 'flags'}`,
      allowed: 'none',
      amount: { measured: count, allowed: 0, unit: 'flags' },
      why: 'What the drill flags is seen in the game.',
      remedy: 'Open the frame in the Drill: the flag says where it is mended.',
      parts: [motion],
      moment: { motion: motionKey, frame: worst.frame },
    }));
