import type { Animation, AnimationSampler, Node } from '@gltf-transform/core';
import { normalise, slerp, type Quat } from '@/core/math/quat';
import type { Transform } from '@/core/rig/rig';
import { accessorFloats } from './accessor-floats';

type Change = { -readonly [Key in keyof Transform]?: Transform[Key] };

/** Local transforms that a clip gives at a time, by node; parts that it does not key are absent. Seconds. */
export function sampleClip(animation: Animation, seconds: number): Map<Node, Change> {
  const out = new Map<Node, Change>();
  for (const channel of animation.listChannels()) {
    const [node, sampler, path] = [channel.getTargetNode(), channel.getSampler(), channel.getTargetPath()];
    if (!node || !sampler || path === 'weights' || path === null) continue;
    const values = sampleAt(sampler, path === 'rotation' ? 4 : 3, seconds);
    if (!values || !values.every(Number.isFinite)) continue;
    const change = out.get(node) ?? {};
    out.set(node, { ...change, [path]: path === 'rotation' ? normalise(values as unknown as Quat) : values });
  }
  return out;
}

/** Value of a sampler at a time. Source: glTF 2.0 specification, appendix C (interpolation). */
function sampleAt(sampler: AnimationSampler, size: number, seconds: number): number[] | null {
  const [input, output] = [sampler.getInput(), sampler.getOutput()];
  if (!input || !output || input.getCount() === 0) return null;
  const times = accessorFloats(input, 1);
  const values = accessorFloats(output, size);
  const isSpline = sampler.getInterpolation() === 'CUBICSPLINE';
  const perKey = isSpline ? 3 : 1;
  if (values.length < times.length * perKey * size) return null;
  const value = (key: number, part = isSpline ? 1 : 0) =>
    Array.from(values.subarray((key * perKey + part) * size, (key * perKey + part + 1) * size));
  const last = times.length - 1;
  if (!(seconds > times[0])) return value(0);
  if (seconds >= times[last]) return value(last);
  let high = 1;
  while (times[high] <= seconds) high++;
  const low = high - 1;
  const span = times[high] - times[low];
  const t = span > 0 ? (seconds - times[low]) / span : 0;
  if (sampler.getInterpolation() === 'STEP') return value(low);
  const [a, b] = [value(low), value(high)];
  if (isSpline) {
    const [t2, t3] = [t * t, t * t * t];
    const [out, into] = [value(low, 2), value(high, 0)];
    return a.map(
      (from, k) =>
        (2 * t3 - 3 * t2 + 1) * from +
        span * (t3 - 2 * t2 + t) * out[k] +
        (3 * t2 - 2 * t3) * b[k] +
        span * (t3 - t2) * into[k],
    );
  }
  return size === 4
    ? [...slerp(a as unknown as Quat, b as unknown as Quat, t)]
    : a.map((from, k) => from + (b[k] - from) * t);
}
