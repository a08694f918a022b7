import type { Track } from '../clips/motion-tracks';
import { sampleTrack } from '../clips/sample-tracks';
import { normaliseAt, writeSlerp, type Quats } from '../math/quat-arrays';

/**
 * Reads a track frame after frame: looks for the key from where it was found last, so that a whole clip costs one walk
 * along its keys. Values are what `sampleTrack` gives.
 */
export class TrackReader {
  private key = 0;
  readonly size: 3 | 4;

  constructor(readonly track: Track) {
    this.size = track.path === 'rotation' ? 4 : 3;
  }

  /** Writes the value at a time into `out` at `at`. @param seconds in the clip's own time. */
  read(out: Quats, at: number, seconds: number): void {
    const { times, values, interpolation } = this.track;
    if (interpolation === 'CUBICSPLINE') {
      const value = sampleTrack(this.track, seconds);
      for (let k = 0; k < this.size; k++) out[at + k] = value[k];
      return;
    }
    const last = times.length - 1;
    if (times[this.key] > seconds) this.key = 0;
    while (this.key < last && times[this.key + 1] <= seconds) this.key++;
    const key = this.key;
    const { size } = this;
    const isHeld = interpolation === 'STEP' || key >= last || seconds <= times[key];
    const share = isHeld ? 0 : (seconds - times[key]) / (times[key + 1] - times[key]);
    // Times are floats: a frame that is meant to lie on a key misses it by a rounding.
    const slack = seconds * FLOAT_STEP;
    const isNext = !isHeld && times[key + 1] - seconds <= slack;
    if (isHeld || isNext || seconds - times[key] <= slack) {
      const from = (isNext ? key + 1 : key) * size;
      for (let k = 0; k < size; k++) out[at + k] = values[from + k];
      if (size === 4) normaliseAt(out, at);
    } else if (size === 4) writeSlerp(out, at, values, key * 4, values, key * 4 + 4, share);
    else
      for (let k = 0; k < 3; k++) {
        const from = values[key * 3 + k];
        out[at + k] = from + (values[key * 3 + 3 + k] - from) * share;
      }
  }
}

/** Relative distance of neighbouring 32-bit floats. */
const FLOAT_STEP = 2 ** -23;

/** Whether a track says anything beside the rest: it changes, or stands elsewhere. @param slack values nearer than this are the same. */
export function saysMore(track: Track, rest: readonly number[], slack: number): boolean {
  const { values, interpolation } = track;
  const size = track.path === 'rotation' ? 4 : 3;
  const [stride, offset] = interpolation === 'CUBICSPLINE' ? [size * 3, size] : [size, 0];
  for (let key = offset; key < values.length; key += stride) {
    // q and -q are one.
    const sign = size === 4 && dot4(values, key, rest) < 0 ? -1 : 1;
    for (let k = 0; k < size; k++) if (Math.abs(values[key + k] * sign - rest[k]) > slack) return true;
  }
  return false;
}

const dot4 = (values: Float32Array, at: number, rest: readonly number[]): number =>
  values[at] * rest[0] + values[at + 1] * rest[1] + values[at + 2] * rest[2] + values[at + 3] * rest[3];
