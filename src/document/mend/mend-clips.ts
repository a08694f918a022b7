import type { AnimationSampler, Document } from '@gltf-transform/core';
import { sampleTrack } from '@/core/clips/sample-tracks';
import { accessorFloats } from '../accessor-floats';
import { bufferOf } from '../document-parts';

interface Keys {
  readonly times: Float32Array;
  readonly values: Float32Array;
  /** Numbers for one key, tangents and all. */
  readonly perKey: number;
}

function keysOf(sampler: AnimationSampler): Keys | null {
  const [input, output] = [sampler.getInput(), sampler.getOutput()];
  if (!input || !output || input.getCount() === 0) return null;
  const times = accessorFloats(input, 1);
  const values = accessorFloats(output, output.getElementSize());
  return { times, values, perKey: values.length / times.length };
}

function setKeys(document: Document, sampler: AnimationSampler, times: Float32Array, values: Float32Array): void {
  const buffer = bufferOf(document);
  const type = sampler.getOutput()?.getType() ?? 'SCALAR';
  sampler
    .setInput(document.createAccessor().setType('SCALAR').setArray(times).setBuffer(buffer))
    .setOutput(document.createAccessor().setType(type).setArray(values).setBuffer(buffer));
}

/** Puts keys in the order of time; of several at one time the first stays, those that are not finite go. */
export function sortKeys(document: Document): void {
  for (const animation of document.getRoot().listAnimations()) {
    for (const sampler of animation.listSamplers()) {
      const keys = keysOf(sampler);
      if (!keys) continue;
      const { times, values, perKey } = keys;
      const isSound = (key: number): boolean =>
        Number.isFinite(times[key]) &&
        times[key] >= 0 &&
        values.subarray(key * perKey, (key + 1) * perKey).every(Number.isFinite);
      const sorted = Array.from(times, (_, key) => key)
        .filter(isSound)
        .sort((a, b) => times[a] - times[b] || a - b)
        .filter((key, at, all) => at === 0 || times[key] > times[all[at - 1]]);
      if (sorted.length === times.length && sorted.every((key, at) => key === at)) continue;
      if (sorted.length === 0) {
        for (const channel of animation.listChannels()) if (channel.getSampler() === sampler) channel.dispose();
        sampler.dispose();
        continue;
      }
      const out = new Float32Array(sorted.length * perKey);
      sorted.forEach((key, at) => out.set(values.subarray(key * perKey, (key + 1) * perKey), at * perKey));
      setKeys(
        document,
        sampler,
        Float32Array.from(sorted, (key) => times[key]),
        out,
      );
    }
  }
}

/** Keys all clips anew at one rate, straight between keys; weights of morph targets keep theirs. */
export function resampleClips(document: Document, framesPerSecond: number): void {
  for (const animation of document.getRoot().listAnimations()) {
    const ends = animation.listSamplers().flatMap((sampler) => [...(keysOf(sampler)?.times.slice(-1) ?? [])]);
    const frames = Math.max(1, Math.round(Math.max(0, ...ends) * framesPerSecond) + 1);
    const times = Float32Array.from({ length: frames }, (_, frame) => frame / framesPerSecond);
    for (const channel of animation.listChannels()) {
      const [path, sampler] = [channel.getTargetPath(), channel.getSampler()];
      const keys = sampler && keysOf(sampler);
      if (!keys || path === 'weights' || path === null) continue;
      const size = path === 'rotation' ? 4 : 3;
      const track = {
        bone: -1,
        path,
        interpolation: sampler.getInterpolation(),
        times: keys.times,
        values: keys.values,
      };
      const out = new Float32Array(frames * size);
      times.forEach((seconds, frame) => out.set(sampleTrack(track, seconds), frame * size));
      // Channels may share a sampler; the old one goes when nobody has it any more.
      const own = sampler.clone().setInterpolation('LINEAR');
      animation.addSampler(own);
      setKeys(document, own, times, out);
      channel.setSampler(own);
    }
    for (const sampler of animation.listSamplers())
      if (!animation.listChannels().some((channel) => channel.getSampler() === sampler)) sampler.dispose();
  }
}
