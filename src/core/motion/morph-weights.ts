import type { ClipTracks, MorphTrack } from '../clips/motion-tracks';
import { spendBytes } from '../errors/byte-budget';
import type { FrameTimes } from './frame-times';

/** Weights of a mesh's morph targets at the frames of a motion; [frameCount x count]. */
export function sampleWeights(track: MorphTrack, times: FrameTimes): { count: number; weights: Float32Array } {
  const { times: keys, values, interpolation } = track;
  const isSpline = interpolation === 'CUBICSPLINE';
  const count = Math.floor(values.length / Math.max(1, keys.length) / (isSpline ? 3 : 1));
  spendBytes(times.frameCount * count * 4, 'clip');
  const weights = new Float32Array(times.frameCount * count);
  const valueAt = (key: number, morph: number) => values[(isSpline ? key * 3 + 1 : key) * count + morph];
  let key = 0;
  times.seconds(0, times.frameCount).forEach((seconds, frame) => {
    while (key < keys.length - 1 && keys[key + 1] <= seconds) key++;
    const next = Math.min(keys.length - 1, key + 1);
    const span = keys[next] - keys[key];
    const share = interpolation === 'STEP' || span <= 0 || seconds <= keys[key] ? 0 : (seconds - keys[key]) / span;
    for (let morph = 0; morph < count; morph++) {
      const [from, to] = [valueAt(key, morph), valueAt(next, morph)];
      weights[frame * count + morph] = from + (to - from) * share;
    }
  });
  return { count, weights };
}

/** Morph weights by the targets' names; what has no name stays with its own character. */
export function morphsOf(
  clip: ClipTracks,
  times: FrameTimes,
  names: ReadonlyMap<number, readonly string[]> = new Map(),
): { name: string; weights: Float32Array }[] {
  return clip.morphs.flatMap((track) => {
    const targets = names.get(track.nodeIndex) ?? [];
    if (targets.length === 0) return [];
    const { count, weights } = sampleWeights(track, times);
    return targets.slice(0, count).map((name, morph) => ({
      name,
      weights: Float32Array.from({ length: times.frameCount }, (_, frame) => weights[frame * count + morph]),
    }));
  });
}
