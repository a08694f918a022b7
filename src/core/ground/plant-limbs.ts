import type { Contact } from '../motion/motion';
import type { Vec3 } from '../math/vec3';

/** Points of a limb that may bear, frame by frame, before anything is planted. */
export interface BearingTrack {
  readonly frameCount: number;
  readonly framesPerSecond: number;
  readonly contacts: readonly Contact[];
  /** [frame][point] body frame, metres. */
  readonly places: readonly (readonly Vec3[])[];
  /** Height of the floor under a contact, metres; null for what bears where it is, as a hand on a rail. */
  readonly floorOf: ((contact: Contact) => number) | null;
  /** Points that are lower than others by less than this bear with them, metres. */
  readonly slack: number;
  /** Whether the last frame goes over into the first. */
  readonly loops: boolean;
}

interface Span {
  readonly contact: Contact;
  readonly from: number;
  readonly to: number;
}

/** A limb comes to its planted place, and leaves it, over so many seconds where no other contact is near. */
const BLEND_SECONDS = 0.25;

/**
 * How far a limb has to be moved in each frame so that what bears stays where it is: [frameCount x 3], metres.
 *
 * Of a foot that rolls the lowest point bears, first the heel, then the ball, then the tip; when another takes over it
 * stays where it is in that frame. The whole contact is put where the limb has to be moved least. Between two contacts
 * a cubic leads from one to the other.
 */
export function plantOffsets(track: BearingTrack): Float64Array {
  const { frameCount, contacts, loops, framesPerSecond } = track;
  const out = new Float64Array(frameCount * 3);
  const spans: Span[] = contacts
    .map((contact) => ({ contact, from: contact.from, to: Math.min(contact.to, frameCount - 1) }))
    .filter(({ from, to }) => from <= to)
    .sort((a, b) => a.from - b.from);
  for (const { contact, from, to } of spans) plantSpan(out, track, contact, from, to);
  const blend = Math.max(1, Math.round(BLEND_SECONDS * framesPerSecond));
  /** Offset at the end of a span, and how it goes on there in each frame; nothing where there is no span. */
  const endOf = (span: Span | null, isStart: boolean): readonly number[] => {
    if (!span) return [0, 0, 0, 0, 0, 0];
    const [at, beside] = isStart
      ? [span.from, Math.min(span.from + 1, span.to)]
      : [span.to, Math.max(span.to - 1, span.from)];
    const sign = isStart ? 1 : -1;
    return [0, 1, 2].flatMap((k) => [out[at * 3 + k], sign * (out[beside * 3 + k] - out[at * 3 + k])]);
  };
  /** Cubic from one end to the other that starts and ends at the speed of either side (Hermite). */
  const write = (frame: number, before: Span | null, after: Span | null, share: number, length: number): void => {
    const [from, to] = [endOf(before, false), endOf(after, true)];
    const [s, t] = [share, Math.min(length, blend)];
    const at = ((frame % frameCount) + frameCount) % frameCount;
    for (let k = 0; k < 3; k++) {
      const [p, v, q, w] =
        before || after ? [from[k * 2], from[k * 2 + 1] * t, to[k * 2], to[k * 2 + 1] * t] : [0, 0, 0, 0];
      out[at * 3 + k] =
        p * (2 * s ** 3 - 3 * s ** 2 + 1) +
        v * (s ** 3 - 2 * s ** 2 + s) +
        q * (3 * s ** 2 - 2 * s ** 3) +
        w * (s ** 3 - s ** 2);
    }
  };
  spans.forEach((span, at) => {
    const next = spans[at + 1];
    if (!next) return;
    const length = next.from - span.to;
    for (let frame = span.to + 1; frame < next.from; frame++)
      write(frame, span, next, (frame - span.to) / length, length);
  });
  const [first, last] = [spans[0], spans.at(-1)];
  if (!first || !last) return out;
  // In a loop the last frame is the first: what comes after the last contact leads to the first one.
  const gap = first.from + frameCount - 1 - last.to;
  if (loops && gap > 0) {
    for (let step = 1; step < gap; step++) {
      const frame = last.to + step;
      write(frame % (frameCount - 1), last, first, step / gap, gap);
    }
    if (last.to < frameCount - 1) out.copyWithin((frameCount - 1) * 3, 0, 3);
    return out;
  }
  for (let frame = last.to + 1; frame < frameCount; frame++)
    write(frame, last, null, Math.min(1, (frame - last.to) / blend), blend);
  for (let frame = 0; frame < first.from; frame++)
    write(frame, null, first, Math.max(0, 1 - (first.from - frame) / blend), blend);
  return out;
}

function plantSpan(out: Float64Array, track: BearingTrack, contact: Contact, from: number, to: number): void {
  const { places, floorOf, slack } = track;
  const floor = floorOf ? floorOf(contact) : null;
  let bearing = lowest(places[from], -1, slack);
  let [x, z] = [0, 0];
  let [meanX, meanZ] = [0, 0];
  for (let frame = from; frame <= to; frame++) {
    if (frame > from) {
      const [before, now] = [places[frame - 1][bearing], places[frame][bearing]];
      x += before[0] - now[0];
      z += before[2] - now[2];
      bearing = lowest(places[frame], bearing, slack);
    }
    out[frame * 3] = x;
    out[frame * 3 + 2] = z;
    const low = Math.min(...places[frame].map(([, y]) => y));
    out[frame * 3 + 1] = (floor ?? meanHeight(places, from, to)) - low;
    meanX += x / (to - from + 1);
    meanZ += z / (to - from + 1);
  }
  for (let frame = from; frame <= to; frame++) {
    out[frame * 3] -= meanX;
    out[frame * 3 + 2] -= meanZ;
  }
}

/** The lowest point; the one that bears already while it is as low to within the slack. */
function lowest(points: readonly Vec3[], bearing: number, slack: number): number {
  let best = 0;
  points.forEach(([, y], at) => {
    if (y < points[best][1]) best = at;
  });
  return bearing >= 0 && points[bearing][1] - points[best][1] < slack ? bearing : best;
}

function meanHeight(places: BearingTrack['places'], from: number, to: number): number {
  let sum = 0;
  for (let frame = from; frame <= to; frame++) sum += places[frame][0][1];
  return sum / (to - from + 1);
}

/**
 * Lowers the hips where a leg would not reach: the least that is needed in each frame, made smooth over half a blend on
 * either side without ever being less than is needed.
 * @param needs [frameCount] metres, 0 or more. @returns how much lower the hips go, metres.
 */
export function smoothDrop(needs: Float64Array, framesPerSecond: number, loops: boolean): Float64Array {
  const half = Math.max(1, Math.round((BLEND_SECONDS / 2) * framesPerSecond));
  const count = needs.length;
  const around = (values: Float64Array, frame: number): number => {
    if (loops && count > 1) return values[((frame % (count - 1)) + count - 1) % (count - 1)];
    return values[Math.max(0, Math.min(count - 1, frame))];
  };
  const widest = needs.map((_, frame) => {
    let most = 0;
    for (let step = -half; step <= half; step++) most = Math.max(most, around(needs, frame + step));
    return most;
  });
  return widest.map((_, frame) => {
    let sum = 0;
    for (let step = -half; step <= half; step++) sum += around(widest, frame + step);
    return sum / (2 * half + 1);
  });
}
