import type { Animation, AnimationSampler, Document, Node } from '@gltf-transform/core';
import type { ClipTracks, MorphTrack, MotionTracks, Track } from '@/core/clips/motion-tracks';
import type { Rig } from '@/core/rig/rig';
import { accessorFloats } from './accessor-floats';

/** The clips of a document whose rig was read, in the order of its clips; keys of nodes that are no bones are left out. */
export function readMotionTracks(document: Document, rig: Rig): MotionTracks {
  const nodes = document.getRoot().listNodes();
  const nodeIndex = new Map(nodes.map((node, index) => [node, index]));
  const boneOf = new Map(rig.bones.map((bone) => [nodes[bone.nodeIndex], bone.index]));
  return document
    .getRoot()
    .listAnimations()
    .map((animation, index) => readClip(animation, index, boneOf, nodeIndex));
}

function readClip(
  animation: Animation,
  index: number,
  boneOf: ReadonlyMap<Node, number>,
  nodeIndex: ReadonlyMap<Node, number>,
): ClipTracks {
  const tracks: Track[] = [];
  const morphs: MorphTrack[] = [];
  for (const channel of animation.listChannels()) {
    const [node, path, sampler] = [channel.getTargetNode(), channel.getTargetPath(), channel.getSampler()];
    if (!node || !path || !sampler) continue;
    if (path === 'weights') {
      const keys = keysOf(sampler, 1);
      if (keys) morphs.push({ nodeIndex: nodeIndex.get(node) ?? -1, ...keys });
      continue;
    }
    const bone = boneOf.get(node);
    const keys = bone === undefined ? null : keysOf(sampler, path === 'rotation' ? 4 : 3);
    if (bone !== undefined && keys) tracks.push({ bone, path, ...keys });
  }
  return { name: animation.getName() || `clip ${index}`, tracks, morphs };
}

/** Times and values of a sampler; null where it has none. */
function keysOf(
  sampler: AnimationSampler,
  size: number,
): { interpolation: Track['interpolation']; times: Float32Array; values: Float32Array } | null {
  const [input, output] = [sampler.getInput(), sampler.getOutput()];
  if (!input || !output || input.getCount() === 0) return null;
  return {
    interpolation: sampler.getInterpolation(),
    times: accessorFloats(input, 1),
    values: accessorFloats(output, size),
  };
}
