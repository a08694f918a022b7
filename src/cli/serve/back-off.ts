/** Pauses before the tries of something that ends again and again, milliseconds. */
const PAUSES_MS = [0, 500, 1_000, 2_000, 4_000, 8_000] as const;
/** Whatever held this long was sound; what ends it is news. */
const SOUND_AFTER_MS = 60_000;

/** Counts how often something ended soon after it was started. */
export class BackOff {
  private failures = 0;

  /** @param ranMs how long it ran this time. @returns how long to wait before the next try. */
  next(ranMs: number): number {
    if (ranMs >= SOUND_AFTER_MS) this.failures = 0;
    const pause = PAUSES_MS[Math.min(this.failures, PAUSES_MS.length - 1)];
    this.failures++;
    return pause;
  }

  /** How often in a row. */
  get count(): number {
    return this.failures;
  }
}
