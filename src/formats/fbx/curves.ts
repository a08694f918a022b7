import { childNamed, numbersOf } from './fbx-tree';
import type { FbxObject } from './objects';

/** Ticks of the format's clock per second. */
export const TICKS_PER_SECOND = 46_186_158_000;

const [CONSTANT, LINEAR, CUBIC] = [2, 4, 8];
const CONSTANT_NEXT = 0x100;
const [RIGHT_WEIGHTED, NEXT_LEFT_WEIGHTED] = [0x01000000, 0x02000000];
const WEIGHT_UNIT = 9999;

interface Segment {
  readonly flags: number;
  readonly rightSlope: number;
  readonly nextLeftSlope: number;
  readonly rightWeight: number;
  readonly nextLeftWeight: number;
}

/** One animated number over time. */
export interface Curve {
  /** Seconds, ascending. */
  readonly times: readonly number[];
  readonly at: (seconds: number) => number;
}

/** Reads a curve; null where it has no keys. Key attributes come packed: one set serves as many keys as its count says. */
export function readCurve(object: FbxObject): Curve | null {
  const times = Array.from(numbersOf(childNamed(object.node, 'KeyTime')), (ticks) => Number(ticks) / TICKS_PER_SECOND);
  const values = Array.from(numbersOf(childNamed(object.node, 'KeyValueFloat')), Number);
  const count = Math.min(times.length, values.length);
  if (count === 0) return null;
  const segments = readSegments(object, count);
  for (let key = 1; key < count; key++) if (!(times[key] >= times[key - 1])) return null;
  times.length = count;
  return { times, at: (seconds) => evaluate(times, values, segments, seconds) };
}

function readSegments(object: FbxObject, count: number): Segment[] {
  const flags = numbersOf(childNamed(object.node, 'KeyAttrFlags'));
  const data = numbersOf(childNamed(object.node, 'KeyAttrDataFloat'));
  const repeats = numbersOf(childNamed(object.node, 'KeyAttrRefCount'));
  const segments: Segment[] = [];
  for (let set = 0; set < flags.length && segments.length < count; set++) {
    const weights = packedWeights(Number(data[set * 4 + 2] ?? 0));
    const segment = {
      flags: Number(flags[set]),
      rightSlope: Number(data[set * 4] ?? 0),
      nextLeftSlope: Number(data[set * 4 + 1] ?? 0),
      ...weights,
    };
    for (let repeat = Math.max(1, Number(repeats[set] ?? 1)); repeat > 0 && segments.length < count; repeat--)
      segments.push(segment);
  }
  while (segments.length < count)
    segments.push({ flags: LINEAR, rightSlope: 0, nextLeftSlope: 0, rightWeight: 1 / 3, nextLeftWeight: 1 / 3 });
  return segments;
}

/** Two weights in the halves of one float's bits, in ten-thousandths. */
function packedWeights(value: number): Pick<Segment, 'rightWeight' | 'nextLeftWeight'> {
  const bits = new Uint32Array(Float32Array.of(value).buffer)[0];
  return { rightWeight: (bits & 0xffff) / WEIGHT_UNIT, nextLeftWeight: (bits >>> 16) / WEIGHT_UNIT };
}

function evaluate(
  times: readonly number[],
  values: readonly number[],
  segments: readonly Segment[],
  seconds: number,
): number {
  const last = times.length - 1;
  if (seconds <= times[0]) return values[0];
  if (seconds >= times[last]) return values[last];
  let [low, high] = [0, last];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (times[middle] <= seconds) low = middle;
    else high = middle;
  }
  const span = times[high] - times[low];
  if (span <= 0) return values[high];
  const t = (seconds - times[low]) / span;
  const segment = segments[low];
  if (segment.flags & CONSTANT) return segment.flags & CONSTANT_NEXT ? values[high] : values[low];
  if (segment.flags & CUBIC) return cubic(values[low], values[high], span, t, segment);
  return values[low] + (values[high] - values[low]) * t;
}

/** A Bezier segment given by slopes and weights; with the usual weights of a third it is Hermite's cubic. */
function cubic(from: number, to: number, span: number, t: number, segment: Segment): number {
  const right = segment.flags & RIGHT_WEIGHTED ? segment.rightWeight : 1 / 3;
  const left = segment.flags & NEXT_LEFT_WEIGHTED ? segment.nextLeftWeight : 1 / 3;
  const parameter = right === 1 / 3 && left === 1 / 3 ? t : solveTime(right, 1 - left, t);
  return bezier(
    from,
    from + segment.rightSlope * span * right,
    to - segment.nextLeftSlope * span * left,
    to,
    parameter,
  );
}

function bezier(a: number, b: number, c: number, d: number, u: number): number {
  const v = 1 - u;
  return v * v * v * a + 3 * v * v * u * b + 3 * v * u * u * c + u * u * u * d;
}

/** Parameter at which the time of a weighted segment is `t`; the time grows with it. */
function solveTime(x1: number, x2: number, t: number): number {
  let [low, high] = [0, 1];
  for (let step = 0; step < 48; step++) {
    const middle = (low + high) / 2;
    if (bezier(0, x1, x2, 1, middle) < t) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
