import type { Document, Node } from '@gltf-transform/core';

/** Cameras and lights are no part of a character; containers that held only bones are empty now. */
export function dropExtras(document: Document, boneOf: ReadonlyMap<Node, number>, leftOut: string[]): void {
  for (let again = true; again;) {
    again = false;
    for (const node of document.getRoot().listNodes()) {
      if (boneOf.has(node) || node.getMesh() || node.listChildren().length > 0) continue;
      const isRoot = document
        .getRoot()
        .listSkins()
        .some((skin) => skin.getSkeleton() === node);
      if (isRoot) continue;
      leftOut.push(node.getName() || 'unnamed node');
      for (const animation of document.getRoot().listAnimations()) {
        for (const channel of animation.listChannels()) if (channel.getTargetNode() === node) channel.dispose();
      }
      node.dispose();
      again = true;
    }
  }
  for (const camera of document.getRoot().listCameras()) camera.dispose();
}
