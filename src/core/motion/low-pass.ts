/**
 * Smooths a curve without shifting it in time: a second-order Butterworth low-pass run forwards and backwards. At
 * `cutoffHz` half of the amplitude is left. Ends are continued by point reflection, so that they stay where they are.
 * Source: Winter 2009, "Biomechanics and Motor Control of Human Movement", 2.4.4.2.
 *
 * @throws {RangeError} for a cut-off that is not above 0.
 */
export function lowPass(values: Float64Array, cutoffHz: number, framesPerSecond: number): Float64Array {
  if (!(cutoffHz > 0)) throw new RangeError(`lowPass: a cut-off of ${cutoffHz} Hz`);
  // Nothing of a sampled curve lies above half its rate.
  if (values.length < 3 || cutoffHz >= framesPerSecond / 2) return values.slice();
  const pad = Math.min(values.length - 1, Math.ceil((3 * framesPerSecond) / cutoffHz));
  const padded = new Float64Array(values.length + 2 * pad);
  const last = values.length - 1;
  for (let at = 0; at < padded.length; at++) {
    const frame = at - pad;
    padded[at] =
      frame < 0
        ? 2 * values[0] - values[-frame]
        : frame > last
          ? 2 * values[last] - values[2 * last - frame]
          : values[frame];
  }
  // Each pass alone leaves the root of a half at the cut-off.
  const warped = Math.tan((Math.PI * cutoffHz) / framesPerSecond);
  const norm = 1 / (1 + Math.SQRT2 * warped + warped * warped);
  const b0 = warped * warped * norm;
  const a1 = 2 * (warped * warped - 1) * norm;
  const a2 = (1 - Math.SQRT2 * warped + warped * warped) * norm;
  for (let pass = 0; pass < 2; pass++) {
    let [x1, x2, y1, y2] = [padded[0], padded[0], padded[0], padded[0]];
    for (let at = 0; at < padded.length; at++) {
      const x = padded[at];
      const y = b0 * (x + 2 * x1 + x2) - a1 * y1 - a2 * y2;
      [x2, x1, y2, y1] = [x1, x, y1, y];
      padded[at] = y;
    }
    padded.reverse();
  }
  return padded.slice(pad, pad + values.length);
}
