import { slerp, normalise, type Quat } from '../math/quat';
import type { ClipTracks, Track } from './motion-tracks';

/** Components of a value: 4 for rotations, else 3. */
const sizeOf = (track: Track): 3 | 4 => (track.path === 'rotation' ? 4 : 3);

/**
 * Value of a track at a time; before the first key and after the last one that key's own.
 * Source: glTF 2.0, appendix C (interpolation).
 *
 * @param time seconds.
 */
export function sampleTrack(track: Track, time: number): readonly number[] {
  const { times, interpolation } = track;
  const last = times.length - 1;
  const before = keyBefore(times, time);
  if (before < 0) return keyOf(track, 0);
  if (before >= last || interpolation === 'STEP') return keyOf(track, Math.min(before, last));
  const span = times[before + 1] - times[before];
  const t = span > 0 ? (time - times[before]) / span : 0;
  if (interpolation === 'CUBICSPLINE') return splineBetween(track, before, t, span);
  const [a, b] = [keyOf(track, before), keyOf(track, before + 1)];
  if (track.path === 'rotation') return slerp(a as unknown as Quat, b as unknown as Quat, t);
  return a.map((value, at) => value + (b[at] - value) * t);
}

/** Index of the last key at or before a time; -1 before the first. */
function keyBefore(times: Float32Array, time: number): number {
  let [low, high] = [0, times.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (times[middle] <= time) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

function keyOf(track: Track, key: number): readonly number[] {
  const size = sizeOf(track);
  const start = track.interpolation === 'CUBICSPLINE' ? (key * 3 + 1) * size : key * size;
  return Array.from(track.values.subarray(start, start + size));
}

function splineBetween(track: Track, key: number, t: number, span: number): readonly number[] {
  const size = sizeOf(track);
  const part = (at: number, which: 0 | 1 | 2) => (at * 3 + which) * size;
  const [t2, t3] = [t * t, t * t * t];
  const value = Array.from({ length: size }, (_, at) => {
    const [p0, m0] = [track.values[part(key, 1) + at], track.values[part(key, 2) + at] * span];
    const [p1, m1] = [track.values[part(key + 1, 1) + at], track.values[part(key + 1, 0) + at] * span];
    return (2 * t3 - 3 * t2 + 1) * p0 + (t3 - 2 * t2 + t) * m0 + (-2 * t3 + 3 * t2) * p1 + (t3 - t2) * m1;
  });
  return track.path === 'rotation' ? normalise(value as unknown as Quat) : value;
}

/** From the first to the last key of a clip, seconds; zeros for one without keys. */
export function spanOf(clip: ClipTracks): { start: number; end: number } {
  const starts = clip.tracks.map(({ times }) => times[0]);
  const ends = clip.tracks.map(({ times }) => times[times.length - 1]);
  return clip.tracks.length > 0 ? { start: Math.min(...starts), end: Math.max(...ends) } : { start: 0, end: 0 };
}
