/**
 * Heading of a turn about the up axis, frame by frame, without jumps at half turns; radians.
 *
 * @param rotations unit quaternions in the body frame, Y up, `stride` numbers apart.
 * Source: Dobrowolski 2015, "Swing-twist decomposition in Clifford algebra". Where the figure lies on its head the
 * heading is undefined and stays what it was.
 */
export function computeHeadings(
  rotations: ArrayLike<number>,
  start: number,
  stride: number,
  count: number,
): Float64Array {
  return unwrapped(count, (frame) => {
    const at = start + frame * stride;
    return [rotations[at + 1], rotations[at + 3]];
  });
}

/** Below this both parts of a half angle are noise. */
const LEAST = 1e-6;

/** Angles from the sines and cosines of their halves, each within half a turn of the one before it. */
export function unwrapped(
  count: number,
  halfOf: (frame: number) => readonly [sine: number, cosine: number],
): Float64Array {
  const out = new Float64Array(count);
  let known = 0;
  for (let frame = 0; frame < count; frame++) {
    const [sine, cosine] = halfOf(frame);
    if (Math.abs(sine) + Math.abs(cosine) > LEAST) {
      const angle = 2 * Math.atan2(sine, cosine);
      known = frame === 0 ? wrapped(angle) : known + wrapped(angle - known);
    }
    out[frame] = known;
  }
  return out;
}

/** Within half a turn of zero. */
const wrapped = (angle: number): number => angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI));
