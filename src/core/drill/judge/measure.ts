/** Something that is measured in every frame of a motion on a character. */
export interface Measure {
  /** "knee.left": what, and where. */
  readonly name: string;
  readonly unit: '%' | '°' | '°/s';
  /** What it is about, as a person says it. */
  readonly subject: string;
  readonly bones: readonly string[];
  /** [frameCount]; NaN in frames in which it cannot be taken, or says nothing. */
  readonly values: Float64Array;
  /** What is allowed, from and to; null for what has no flag. */
  readonly band: readonly [number, number] | null;
  /** Frames in which leaving the band is meant, as the source does it too; none where left out. */
  readonly isExcused?: (frame: number) => boolean;
}

/** A span in which a measure leaves its band. */
export interface Breach {
  readonly from: number;
  readonly to: number;
  /** Value that is furthest out. */
  readonly worst: number;
  readonly worstFrame: number;
  /** The end of the band that it leaves. */
  readonly limit: number;
}

/** Spans out of the band; those that are nearer than `gap` frames are one. */
export function breachesOf(
  { values, band, isExcused }: Pick<Measure, 'values' | 'band' | 'isExcused'>,
  gap: number,
): Breach[] {
  if (!band) return [];
  const [low, high] = band;
  const found: Breach[] = [];
  for (let frame = 0; frame < values.length; frame++) {
    const value = values[frame];
    if (!(value < low || value > high) || isExcused?.(frame)) continue;
    const limit = value < low ? low : high;
    const last = found.at(-1);
    if (last && last.limit === limit && frame - last.to <= gap) {
      const isWorse = Math.abs(value - limit) > Math.abs(last.worst - limit);
      found[found.length - 1] = { ...last, to: frame, ...(isWorse && { worst: value, worstFrame: frame }) };
    } else found.push({ from: frame, to: frame, worst: value, worstFrame: frame, limit });
  }
  return found;
}

export function rangeOf(values: Float64Array): { min: number; max: number } | null {
  let [min, max] = [Infinity, -Infinity];
  for (const value of values)
    if (!Number.isNaN(value)) {
      min = Math.min(min, value);
      max = Math.max(max, value);
    }
  return min <= max ? { min, max } : null;
}
