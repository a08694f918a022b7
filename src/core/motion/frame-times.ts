import type { ClipTracks } from '../clips/motion-tracks';
import { YarvoError } from '../errors/yarvo-error';

/** Which frames of a clip become frames of a motion. */
export interface FrameWishes {
  /** Frames a second; the clip's own rate by default. */
  readonly framesPerSecond: number;
  /** Frame that was the reference pose and is left out, at the clip's own rate; null for none. */
  readonly droppedFrame?: { readonly frame: number; readonly framesPerSecond: number } | null;
  /** Longest clip that is taken. */
  readonly mostFrames?: number;
}

export const MOST_FRAMES = 200_000;
const MOST_RATE = 1000;
/** Times of long clips are floats: the last key may lie so much of a frame short of where it is meant. */
const FRAME_SLACK = 0.02;

export interface FrameTimes {
  readonly framesPerSecond: number;
  readonly frameCount: number;
  /** Clip times of some frames, seconds. */
  readonly seconds: (from: number, count: number) => number[];
}

/**
 * Lays frames over a clip from its start to its last key. A frame left out at either end shortens the clip; one in the
 * middle is bridged by its neighbours.
 * @throws {YarvoError} `empty-clip`, `bad-rate`, `too-long`
 */
export function frameTimes(clip: ClipTracks, wishes: FrameWishes, place: string): FrameTimes {
  const { framesPerSecond, droppedFrame = null, mostFrames = MOST_FRAMES } = wishes;
  const where = `${place}, clip "${clip.name}"`;
  if (!(framesPerSecond > 0 && framesPerSecond <= MOST_RATE))
    throw new YarvoError({
      code: 'bad-rate',
      message: `A rate of ${framesPerSecond} frames a second.`,
      place: where,
      remedy: `Give a rate above 0 and up to ${MOST_RATE}.`,
    });
  const last = clip.tracks.reduce((end, { times }) => Math.max(end, times[times.length - 1] ?? 0), 0);
  if (!(last > 0))
    throw new YarvoError({
      code: 'empty-clip',
      message: 'The clip has no length: all its keys stand at one moment.',
      place: where,
      remedy: 'Choose another clip of the file, or export it with its whole range.',
    });
  const dropped = droppedFrame && droppedFrame.framesPerSecond > 0 ? droppedFrame : null;
  const ownFrame = dropped ? 1 / dropped.framesPerSecond : 0;
  const droppedAt = dropped ? dropped.frame * ownFrame : -1;
  const isFirst = dropped?.frame === 0;
  const isLast = !isFirst && droppedAt >= last - ownFrame / 2;
  const [start, end] = [isFirst ? ownFrame : 0, isLast && dropped ? last - ownFrame : last];
  const frameCount = Math.floor((end - start) * framesPerSecond + FRAME_SLACK) + 1;
  if (dropped && end < start)
    throw new YarvoError({
      code: 'empty-clip',
      message: 'Nothing is left of the clip once its reference frame is taken out.',
      place: where,
      remedy: 'Take the rest as reference, or another frame of a longer clip.',
    });
  if (frameCount > mostFrames)
    throw new YarvoError({
      code: 'too-long',
      message: `The clip has ${frameCount.toLocaleString('en')} frames; ${mostFrames.toLocaleString('en')} are taken.`,
      place: where,
      remedy: 'Cut it, take a lower rate, or raise the limit in the settings (YARVO_MOST_FRAMES).',
    });
  const inMiddle = dropped && !isFirst && !isLast ? droppedAt : -1;
  const secondsOf = (frame: number): number => {
    // The last frame must not miss the last key by a rounding.
    const at = Math.min(last, start + frame / framesPerSecond);
    return inMiddle >= 0 && Math.abs(at - inMiddle) < ownFrame / 2 ? inMiddle - ownFrame : at;
  };
  return {
    framesPerSecond,
    frameCount,
    seconds: (from, count) => Array.from({ length: count }, (_, frame) => secondsOf(from + frame)),
  };
}
