import type { ClipTracks } from '../clips/motion-tracks';

/** Rate of a clip that states none and whose keys do not follow one another evenly. */
const USUAL_RATE = 30;
/** Fewer keys a second are poses to be joined, not frames. */
const LEAST_RATE = 10;
const MOST_RATE = 1000;
/** A rate that the keys come this near to is meant; floats of times do not hold it exactly. */
const NEAR = 2e-3;
const BROADCAST_RATES = [24000 / 1001, 30000 / 1001, 60000 / 1001];

/**
 * Frames a second of a clip: as its file states, else as its densest keys follow one another, else the usual 30.
 * @param stated 0 where the file states none.
 */
export function ownRate(clip: ClipTracks, stated: number): number {
  if (stated > 0 && stated <= MOST_RATE) return stated;
  const densest = clip.tracks.reduce<Float32Array | null>(
    (most, { times }) => (times.length > (most?.length ?? 2) ? times : most),
    null,
  );
  if (!densest) return USUAL_RATE;
  const step = (densest[densest.length - 1] - densest[0]) / (densest.length - 1);
  const isEven = densest.every((time, key) => Math.abs(time - (densest[0] + key * step)) < step * 0.25);
  const rate = 1 / step;
  if (!isEven || !(rate >= LEAST_RATE && rate <= MOST_RATE)) return USUAL_RATE;
  const meant = [Math.round(rate), ...BROADCAST_RATES].find((each) => Math.abs(rate / each - 1) < NEAR / 10);
  return meant ?? rate;
}
