import { spendBytes } from '@/core/errors/byte-budget';
import type { Transform } from '@/core/rig/rig';
import type { DraftTrack } from './scene-draft';

const PATHS = [
  ['translation', 3],
  ['rotation', 4],
  ['scale', 3],
] as const;
const NUMBERS_A_FRAME = 10;
type Path = (typeof PATHS)[number][0];

/** Collects sampled local transforms; what never changes is written as a single key. */
export class TrackRecorder {
  private readonly samples = new Map<number, Record<Path, Float64Array>>();

  constructor(
    private readonly frameCount: number,
    private readonly secondsOf: (frame: number) => number,
  ) {}

  record(node: number, frame: number, local: Transform): void {
    let own = this.samples.get(node);
    if (!own) {
      spendBytes(this.frameCount * NUMBERS_A_FRAME * Float64Array.BYTES_PER_ELEMENT, 'clip');
      own = {
        translation: new Float64Array(this.frameCount * 3),
        rotation: new Float64Array(this.frameCount * 4),
        scale: new Float64Array(this.frameCount * 3),
      };
      this.samples.set(node, own);
    }
    for (const [path, size] of PATHS) own[path].set(local[path], frame * size);
  }

  tracks(): DraftTrack[] {
    const times = Float32Array.from({ length: this.frameCount }, (_, frame) => this.secondsOf(frame));
    const tracks: DraftTrack[] = [];
    for (const [node, own] of this.samples) {
      for (const [path, size] of PATHS) {
        const values = own[path];
        if (path === 'rotation') alignSigns(values);
        const isConstant = values.every(
          (value, at) => Math.abs(value - values[at % size]) <= 1e-9 * Math.max(1, Math.abs(value)),
        );
        tracks.push(
          isConstant
            ? { node, path, times: times.slice(0, 1), values: Float32Array.from(values.subarray(0, size)) }
            : { node, path, times, values: Float32Array.from(values) },
        );
      }
    }
    return tracks;
  }
}

/** q and -q are one rotation; neighbours on the same side interpolate the short way in every reader. */
function alignSigns(values: Float64Array): void {
  for (let at = 4; at < values.length; at += 4) {
    const cosine =
      values[at] * values[at - 4] +
      values[at + 1] * values[at - 3] +
      values[at + 2] * values[at - 2] +
      values[at + 3] * values[at - 1];
    if (cosine < 0) for (let k = 0; k < 4; k++) values[at + k] = -values[at + k];
  }
}
