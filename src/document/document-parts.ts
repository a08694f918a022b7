import type { Accessor, Buffer, Document, Mesh, Node } from '@gltf-transform/core';

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

/** A copy of a mesh with primitives and morph targets of its own; what they are drawn with stays shared. */
export function copyMesh(mesh: Mesh): Mesh {
  const copy = mesh.clone();
  for (const primitive of copy.listPrimitives()) {
    const own = primitive.clone();
    for (const target of own.listTargets()) own.removeTarget(target).addTarget(target.clone());
    copy.removePrimitive(primitive).addPrimitive(own);
  }
  return copy;
}
