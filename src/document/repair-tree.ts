import type { Animation, Document, Node } from '@gltf-transform/core';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { TreeRepair } from '@/core/intake/decisions';
import { decompose, IDENTITY, invertAffine, multiply } from '@/core/math/mat4';
import { accessorFloats } from './accessor-floats';
import { ancestorsOf, bufferOf } from './document-parts';
import { sampleClip } from './sample-clip';
import { foldBones, reparent, worldOf } from './fold-bones';

/**
 * Carries out repairs of the tree, one after another. No joint moves in the rest pose or in any clip: bones that get
 * another parent get their keys anew, one wherever something above them was keyed before or is now.
 * @param nodes of the file as read; the repairs name them by index.
 * @returns the joints that were made, by the index under which repairs name them.
 * @throws {YarvoError} where a repair does not fit the file.
 */
export function repairTree(
  document: Document,
  nodes: readonly (Node | undefined)[],
  repairs: readonly TreeRepair[],
  place: string,
): Map<number, Node> {
  const made = new Map<number, Node>();
  const misfit = (message: string) =>
    new YarvoError({
      code: 'decision-misfit',
      message,
      place,
      remedy: 'Take the repair back, or choose another bone.',
    });
  const nodeAt = (index: number): Node => {
    const node = index < 0 ? made.get(index) : nodes[index];
    if (!node || node.isDisposed())
      throw misfit(
        index < 0
          ? 'A repair names a joint that no earlier repair made, or that one took away.'
          : `There is no node ${index} to repair, or an earlier repair took it away.`,
      );
    return node;
  };
  for (const repair of repairs) {
    const node = nodeAt(repair.node);
    const parent = node.getParentNode();
    if (repair.kind === 'reparent') {
      const next = nodeAt(repair.parent);
      if (next === node || ancestorsOf(next).includes(node))
        throw misfit(`"${node.getName()}" cannot be parented to "${next.getName()}", which is below it.`);
      keepMotion(document, [node], [next, ...ancestorsOf(next)], () => moveTo(node, next, misfit));
    } else if (repair.kind === 'collapse') {
      if (!parent) throw misfit(`"${node.getName()}" has no parent to take over its weights.`);
      const children = node.listChildren();
      keepMotion(document, children, [], () => {
        children.forEach((child) => moveTo(child, parent, misfit));
        foldBones(document, new Map([[node, parent]]));
      });
    } else {
      if (!parent) throw misfit(`"${node.getName()}" has no parent, so there is no place for a joint before it.`);
      const joint = document.createNode(repair.name);
      if (repair.made !== undefined && made.has(repair.made))
        throw misfit(`Two repairs give their joints the number ${repair.made}.`);
      if (repair.made !== undefined) made.set(repair.made, joint);
      const [x, y, z] = node.getTranslation();
      joint.setTranslation([x * repair.share, y * repair.share, z * repair.share]);
      keepMotion(document, [node], [], () => {
        parent.addChild(joint);
        moveTo(node, joint, misfit);
      });
    }
  }
  return made;
}

/** Parents scaled unevenly would shear what hangs on them; a bone cannot hold that, so it is refused. */
function moveTo(node: Node, parent: Node, misfit: (message: string) => YarvoError): void {
  const before = worldOf(node);
  reparent(node, parent);
  const after = worldOf(node);
  const size = Math.max(...before.map(Math.abs), 1e-9);
  if (before.some((value, at) => Math.abs(value - after[at]) > size * 1e-5))
    throw misfit(`"${node.getName()}" would be sheared below "${parent.getName()}", whose scale is uneven.`);
}

/**
 * Runs a change of the tree and then gives `moved` keys under which they go where they went before.
 * @param above what will stand above them besides what does now.
 */
function keepMotion(document: Document, moved: readonly Node[], above: readonly Node[], change: () => void): void {
  const tracks = document
    .getRoot()
    .listAnimations()
    .flatMap((animation) => {
      const poses = new Map<number, ReturnType<typeof sampleClip>>();
      const poseAt = (seconds: number) => {
        const pose = poses.get(seconds) ?? sampleClip(animation, seconds);
        poses.set(seconds, pose);
        return pose;
      };
      return moved.map((node) => ({
        animation,
        node,
        keys: keyTimes(animation, [node, ...ancestorsOf(node), ...above]).map((seconds) => ({
          seconds,
          pose: poseAt(seconds),
          world: worldOf(node, poseAt(seconds)),
        })),
      }));
    });
  change();
  for (const { animation, node, keys } of tracks) {
    if (keys.length === 0) continue;
    // What stands above a moved node keeps its own keys, so the pose from before the change still tells where it is.
    const locals = keys.map(({ pose, world }) => {
      const parent = node.getParentNode();
      return decompose(parent ? multiply(invertAffine(worldOf(parent, pose)) ?? IDENTITY, world) : world);
    });
    writeKeys(
      document,
      animation,
      node,
      keys.map(({ seconds }) => seconds),
      locals,
    );
  }
}

/** Seconds at which any of these nodes is keyed, in order. */
function keyTimes(animation: Animation, nodes: readonly Node[]): number[] {
  const wanted = new Set<Node | null>(nodes);
  const times = new Set<number>();
  for (const channel of animation.listChannels()) {
    const input = wanted.has(channel.getTargetNode()) ? channel.getSampler()?.getInput() : null;
    if (input) for (const time of accessorFloats(input, 1)) times.add(time);
  }
  return [...times].sort((a, b) => a - b);
}

function writeKeys(
  document: Document,
  animation: Animation,
  node: Node,
  times: readonly number[],
  locals: readonly ReturnType<typeof decompose>[],
): void {
  for (const channel of animation.listChannels())
    if (channel.getTargetNode() === node && channel.getTargetPath() !== 'weights') channel.dispose();
  const buffer = bufferOf(document);
  const input = document.createAccessor().setType('SCALAR').setArray(Float32Array.from(times)).setBuffer(buffer);
  for (const path of ['translation', 'rotation', 'scale'] as const) {
    const values = locals.map((local) => [...local[path]]);
    if (path === 'rotation')
      for (let at = 1; at < values.length; at++)
        if (values[at].reduce((sum, value, k) => sum + value * values[at - 1][k], 0) < 0)
          values[at] = values[at].map((value) => -value);
    const output = document
      .createAccessor()
      .setType(path === 'rotation' ? 'VEC4' : 'VEC3')
      .setArray(Float32Array.from(values.flat()))
      .setBuffer(buffer);
    const sampler = document.createAnimationSampler().setInput(input).setOutput(output).setInterpolation('LINEAR');
    animation
      .addSampler(sampler)
      .addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
  }
}
