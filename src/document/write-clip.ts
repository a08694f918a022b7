import type { Animation, Document, Node } from '@gltf-transform/core';
import { bufferOf } from './document-parts';

/** Keys of one property of a node at the frames of a clip. */
export interface ClipChannel {
  readonly node: Node;
  readonly path: 'rotation' | 'translation' | 'scale' | 'weights';
  /** [frameCount x size] */
  readonly values: Float32Array;
}

/** Values that differ by less are one. */
const SAME = 1e-7;

/** Replaces all clips of a document by one, with a key for each frame; what never changes has a single key. */
export function writeClip(
  document: Document,
  { name, framesPerSecond, frameCount }: { name: string; framesPerSecond: number; frameCount: number },
  channels: readonly ClipChannel[],
): Animation {
  for (const old of document.getRoot().listAnimations()) {
    for (const channel of old.listChannels()) channel.dispose();
    for (const sampler of old.listSamplers()) sampler.dispose();
    old.dispose();
  }
  const buffer = bufferOf(document);
  const animation = document.createAnimation(name);
  const scalar = (times: Float32Array) => document.createAccessor().setType('SCALAR').setArray(times).setBuffer(buffer);
  const times = scalar(Float32Array.from({ length: frameCount }, (_, frame) => frame / framesPerSecond));
  const start = scalar(new Float32Array([0]));
  for (const { node, path, values } of channels) {
    const size = values.length / frameCount;
    const isStill = path !== 'weights' && isConstant(values, size);
    const output = document
      .createAccessor()
      .setType(path === 'rotation' ? 'VEC4' : path === 'weights' ? 'SCALAR' : 'VEC3')
      .setArray(isStill ? values.slice(0, size) : values)
      .setBuffer(buffer);
    const sampler = document
      .createAnimationSampler()
      .setInput(isStill ? start : times)
      .setOutput(output)
      .setInterpolation('LINEAR');
    animation
      .addSampler(sampler)
      .addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
  }
  return animation;
}

function isConstant(values: Float32Array, size: number): boolean {
  for (let at = size; at < values.length; at++) if (Math.abs(values[at] - values[at % size]) > SAME) return false;
  return true;
}
