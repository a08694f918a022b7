import type { Accessor, Buffer, Document, Node } from '@gltf-transform/core';

/** The buffer that new data goes into. */
export const bufferOf = (document: Document): Buffer => document.getRoot().listBuffers()[0] ?? document.createBuffer();

/** Nodes above a node, the nearest first. */
export function ancestorsOf(node: Node): Node[] {
  const above: Node[] = [];
  for (let at = node.getParentNode(); at; at = at.getParentNode()) above.push(at);
  return above;
}

/** Bind matrices as an accessor; the format wants the last row of each exactly 0 0 0 1. */
export function bindMatrices(document: Document, matrices: Float32Array): Accessor {
  const exact = matrices.map((value, at) => (at % 4 === 3 ? (at % 16 === 15 ? 1 : 0) : value));
  return document.createAccessor().setType('MAT4').setArray(exact).setBuffer(bufferOf(document));
}

/** Takes a node from its parent, where it has one. */
export function detach(node: Node): void {
  const parent = node.getParentNode();
  if (parent) parent.removeChild(node);
}
