import type { Animation, AnimationSampler, Node } from '@gltf-transform/core';
import { normalise, type Quat } from '@/core/math/quat';
import type { Track } from '@/core/clips/motion-tracks';
import { sampleTrack } from '@/core/clips/sample-tracks';
import type { Transform } from '@/core/rig/rig';
import { accessorFloats } from './accessor-floats';

type Change = { -readonly [Key in keyof Transform]?: Transform[Key] };

/** Local transforms that a clip gives at a time, by node; parts that it does not key are absent. Seconds. */
export function sampleClip(animation: Animation, seconds: number): Map<Node, Change> {
  const out = new Map<Node, Change>();
  for (const channel of animation.listChannels()) {
    const [node, sampler, path] = [channel.getTargetNode(), channel.getSampler(), channel.getTargetPath()];
    if (!node || !sampler || path === 'weights' || path === null) continue;
    const values = sampleAt(sampler, path, seconds);
    if (!values || !values.every(Number.isFinite)) continue;
    const change = out.get(node) ?? {};
    out.set(node, { ...change, [path]: path === 'rotation' ? normalise(values as unknown as Quat) : values });
  }
  return out;
}

/** Value of a sampler at a time; null for one without usable keys. */
function sampleAt(sampler: AnimationSampler, path: Track['path'], seconds: number): readonly number[] | null {
  const [input, output] = [sampler.getInput(), sampler.getOutput()];
  if (!input || !output || input.getCount() === 0) return null;
  const size = path === 'rotation' ? 4 : 3;
  const interpolation = sampler.getInterpolation();
  const [times, values] = [accessorFloats(input, 1), accessorFloats(output, size)];
  if (values.length < times.length * size * (interpolation === 'CUBICSPLINE' ? 3 : 1)) return null;
  return sampleTrack({ bone: -1, path, interpolation, times, values }, seconds);
}
