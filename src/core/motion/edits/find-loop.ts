import type { Motion } from '../motion';
import { poseDistance } from './placing';

/** A span that can be played over and over, and how unlike its ends stand: root mean square of the turns, degrees. */
export interface FoundLoop {
  readonly from: number;
  readonly to: number;
  readonly unlikeDeg: number;
}

/** Shorter cycles are noise, seconds. */
const SHORTEST = 0.4;
/** No more starts than these are held against one another. */
const MOST_STARTS = 200;

/**
 * Spans between two moments at which the same foot comes down, the most alike first; of equals the longer, which keeps
 * more of what was recorded. None where no foot comes down twice.
 */
export function findLoops(motion: Motion, most = 5): FoundLoop[] {
  const shortest = SHORTEST * motion.framesPerSecond;
  const found: FoundLoop[] = [];
  for (const part of ['leftFoot', 'rightFoot'] as const) {
    // A foot that is down at the first frame came down before it.
    const starts = motion.contacts
      .filter((contact) => contact.part === part && contact.from > 0)
      .map(({ from }) => from)
      .slice(0, MOST_STARTS);
    for (const [at, from] of starts.entries())
      for (const to of starts.slice(at + 1)) {
        if (to - from < shortest) continue;
        const unlikeDeg = (poseDistance(motion, from, motion, to) * 180) / Math.PI;
        found.push({ from, to, unlikeDeg });
      }
  }
  const tenths = ({ unlikeDeg }: FoundLoop): number => Math.round(unlikeDeg * 10);
  return found.sort((a, b) => tenths(a) - tenths(b) || b.to - b.from - (a.to - a.from)).slice(0, most);
}
