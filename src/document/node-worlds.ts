import type { Document, Node } from '@gltf-transform/core';
import { compose, multiply, IDENTITY, type Mat4 } from '@/core/math/mat4';
import { normalise } from '@/core/math/quat';
import type { sampleClip } from './sample-clip';

/** All nodes, each after its parent. */
export function parentFirst(nodes: readonly Node[]): Node[] {
  const order = nodes.filter((node) => !node.getParentNode());
  for (let at = 0; at < order.length; at++) order.push(...order[at].listChildren());
  return order;
}

/** World matrices at rest, or with some local transforms changed. @param order each node after its parent. */
export function worldMatrices(order: readonly Node[], changes?: ReturnType<typeof sampleClip>): Map<Node, Mat4> {
  const worlds = new Map<Node, Mat4>();
  for (const node of order) {
    const change = changes?.get(node);
    const local = compose(
      change?.translation ?? node.getTranslation(),
      normalise(change?.rotation ?? node.getRotation()),
      change?.scale ?? node.getScale(),
    );
    const parent = node.getParentNode();
    worlds.set(node, parent ? multiply(worlds.get(parent) ?? IDENTITY, local) : local);
  }
  return worlds;
}

/** Nodes that clips key. @param isCounted which paths count; all by default. */
export function keyedNodes(
  document: Document,
  isCounted: (path: string | null) => boolean = () => true,
): ReadonlySet<Node> {
  const nodes = document
    .getRoot()
    .listAnimations()
    .flatMap((clip) => clip.listChannels())
    .filter((channel) => isCounted(channel.getTargetPath()))
    .map((channel) => channel.getTargetNode());
  return new Set(nodes.filter((node) => node !== null));
}
