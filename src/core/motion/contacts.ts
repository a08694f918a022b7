import type { Contact, ContactPart } from './motion';

/** Where a joint that may touch is, frame by frame. */
export interface ContactTrack {
  readonly part: ContactPart;
  /** [frameCount x 3] body frame, metres. */
  readonly places: Float32Array;
  /** Its height in the reference posture, where feet stand flat. */
  readonly restHeight: number;
}

export interface ContactScale {
  /** Leg of the figure, metres. */
  readonly leg: number;
  readonly framesPerSecond: number;
  /** How much higher the motion stands than the reference posture, metres. */
  readonly ground: number;
  /** Floor under the reference posture, metres. */
  readonly floor: number;
}

/**
 * A contact starts below the first and ends above the second of each pair: height in legs above where the joint rests
 * on the floor, speed in legs a second. Feet that roll keep one of their joints down.
 */
const FOOT = { height: [0.06, 0.1], speed: [0.35, 0.7] } as const;
const HAND = { height: [0.1, 0.16], speed: [0.3, 0.6] } as const;
/** Shorter contacts, and shorter gaps between two, are noise; seconds. */
const SHORTEST = 0.06;

/** Spans in which feet and hands touch, by height and speed with hysteresis. */
export function findContacts(tracks: readonly ContactTrack[], scale: ContactScale): Contact[] {
  const parts = [...new Set(tracks.map(({ part }) => part))];
  return parts.flatMap((part) => {
    const own = tracks.filter((track) => track.part === part).map((track) => touches(track, scale));
    const frameCount = own[0].length;
    const down = new Uint8Array(frameCount);
    for (const touching of own) for (let frame = 0; frame < frameCount; frame++) down[frame] |= touching[frame];
    return spansOf(down, Math.max(1, Math.round(SHORTEST * scale.framesPerSecond))).map(([from, to]) => ({
      part,
      from,
      to,
    }));
  });
}

function touches({ part, places, restHeight }: ContactTrack, scale: ContactScale): Uint8Array {
  const { leg, framesPerSecond, ground } = scale;
  const isFoot = part.endsWith('Foot');
  const { height, speed } = isFoot ? FOOT : HAND;
  // A hand in the reference posture is nowhere near the floor: it touches by its own height above it.
  const floor = (isFoot ? restHeight : scale.floor) + ground;
  const frameCount = places.length / 3;
  const out = new Uint8Array(frameCount);
  let isDown = false;
  for (let frame = 0; frame < frameCount; frame++) {
    const [before, after] = [Math.max(0, frame - 1), Math.min(frameCount - 1, frame + 1)];
    const x = places[after * 3] - places[before * 3];
    const y = places[after * 3 + 1] - places[before * 3 + 1];
    const z = places[after * 3 + 2] - places[before * 3 + 2];
    const moved = Math.sqrt(x * x + y * y + z * z);
    const perSecond = after > before ? (moved / (after - before)) * framesPerSecond : 0;
    const high = (places[frame * 3 + 1] - floor) / leg;
    const which: 0 | 1 = isDown ? 1 : 0;
    isDown = high < height[which] && perSecond / leg < speed[which];
    out[frame] = isDown ? 1 : 0;
  }
  return out;
}

/** Spans of ones, with gaps shorter than `shortest` closed and spans shorter than it dropped. */
function spansOf(down: Uint8Array, shortest: number): [number, number][] {
  const spans: [number, number][] = [];
  for (let frame = 0; frame < down.length; frame++) {
    if (down[frame] === 0) continue;
    let to = frame;
    while (to + 1 < down.length && down[to + 1] === 1) to++;
    const last = spans[spans.length - 1];
    if (last && frame - last[1] - 1 < shortest) last[1] = to;
    else spans.push([frame, to]);
    frame = to;
  }
  return spans.filter(([from, to]) => to - from + 1 >= shortest);
}
