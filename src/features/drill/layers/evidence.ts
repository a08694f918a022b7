import type { Measure } from '@/core/drill/judge/measure';

/** What a measure says for or against mending the whole motion at once. */
export interface Evidence {
  /** Frames in which it leaves its band, and in which it was taken. */
  readonly out: number;
  readonly frames: number;
  /** From the 10th to the 90th of a hundred values, in its unit. */
  readonly spread: number;
  /** Whether the error is as good as the same over the clip, so that the posture is to blame. */
  readonly isConstant: boolean;
}

/** Of the frames so many are out where an error is constant. */
const MOST_FRAMES = 0.8;

export function evidenceOf({ values, band }: Pick<Measure, 'values' | 'band'>): Evidence | null {
  if (!band) return null;
  const known = values.filter((value) => !Number.isNaN(value)).sort();
  if (known.length === 0) return null;
  const at = (share: number): number => known[Math.round((known.length - 1) * share)];
  const [low, high] = band;
  const out = known.reduce((count, value) => count + (value < low || value > high ? 1 : 0), 0);
  const spread = at(0.9) - at(0.1);
  const middle = at(0.5);
  const beyond = Math.max(low - middle, middle - high);
  return {
    out,
    frames: known.length,
    spread,
    isConstant: out >= MOST_FRAMES * known.length && spread <= Math.max(beyond, 1e-6),
  };
}
