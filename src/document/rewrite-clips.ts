import type { Accessor, Document, Node } from '@gltf-transform/core';
import type { Quat } from '@/core/math/quat';
import { mapRotation, mapTranslation, type SkeletonPlan } from '@/core/plan/plan-skeleton';
import { accessorFloats } from './accessor-floats';
import { bufferOf } from './document-parts';

/** Rotations closer than this are the same; no constant key is needed. */
const SAME_ROTATION = 1e-7;
const SAME_PLACE = 1e-7;

/**
 * Maps the keys of every clip into the written skeleton; joints that the posture changed and a clip does not key get
 * constant keys with the file's rest. @returns how many those are.
 */
export function rewriteClips(
  document: Document,
  bones: readonly Node[],
  boneOf: ReadonlyMap<Node, number>,
  plan: SkeletonPlan,
): number {
  let constantKeys = 0;
  for (const animation of document.getRoot().listAnimations()) {
    const keyed = new Set<string>();
    for (const channel of animation.listChannels()) {
      const node = channel.getTargetNode();
      const bone = node ? boneOf.get(node) : undefined;
      const path = channel.getTargetPath();
      const sampler = channel.getSampler();
      const output = sampler?.getOutput();
      if (bone === undefined || !sampler || !output) continue;
      keyed.add(`${bone} ${path}`);
      // Channels may share a sampler; each bone has its own mapping, so each gets its own copy.
      const own = sampler.clone();
      own.setOutput(mapOutput(document, output, path, plan, bone, sampler.getInterpolation() === 'CUBICSPLINE'));
      animation.addSampler(own);
      channel.setSampler(own);
    }
    for (const sampler of animation.listSamplers()) {
      if (!animation.listChannels().some((channel) => channel.getSampler() === sampler)) sampler.dispose();
    }
    bones.forEach((node, bone) => {
      const [posed, rest] = [plan.locals[bone], plan.restLocals[bone]];
      if (!keyed.has(`${bone} rotation`) && rotationDifference(posed.rotation, rest.rotation) > SAME_ROTATION) {
        addConstantKey(document, animation, node, 'rotation', rest.rotation);
        constantKeys++;
      }
      if (
        !keyed.has(`${bone} translation`) &&
        Math.hypot(...posed.translation.map((value, axis) => value - rest.translation[axis])) > SAME_PLACE
      ) {
        addConstantKey(document, animation, node, 'translation', rest.translation);
        constantKeys++;
      }
    });
  }
  return constantKeys;
}

const rotationDifference = (a: Quat, b: Quat): number =>
  1 - Math.abs(a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3]);

function mapOutput(
  document: Document,
  output: Accessor,
  path: string | null,
  plan: SkeletonPlan,
  bone: number,
  isSpline: boolean,
): Accessor {
  const size = path === 'rotation' ? 4 : 3;
  if (path === 'weights') return output;
  const values = accessorFloats(output, size);
  const mapping = plan.clipMappings[bone];
  for (let key = 0; key * size < values.length; key++) {
    const isTangent = isSpline && key % 3 !== 1;
    const at = key * size;
    if (path === 'rotation')
      values.set(mapRotation(mapping, [values[at], values[at + 1], values[at + 2], values[at + 3]]), at);
    else if (path === 'translation')
      values.set(mapTranslation(mapping, [values[at], values[at + 1], values[at + 2]], isTangent), at);
    else if (path === 'scale') for (let axis = 0; axis < 3; axis++) values[at + axis] /= mapping.restScale[axis];
  }
  return document
    .createAccessor()
    .setType(size === 4 ? 'VEC4' : 'VEC3')
    .setArray(values)
    .setBuffer(bufferOf(document));
}

function addConstantKey(
  document: Document,
  animation: ReturnType<Document['createAnimation']>,
  node: Node,
  path: 'rotation' | 'translation',
  value: readonly number[],
): void {
  const buffer = bufferOf(document);
  const input = document
    .createAccessor()
    .setType('SCALAR')
    .setArray(new Float32Array([0]))
    .setBuffer(buffer);
  const output = document
    .createAccessor()
    .setType(path === 'rotation' ? 'VEC4' : 'VEC3')
    .setArray(new Float32Array(value))
    .setBuffer(buffer);
  const sampler = document.createAnimationSampler().setInput(input).setOutput(output).setInterpolation('LINEAR');
  animation
    .addSampler(sampler)
    .addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
}
