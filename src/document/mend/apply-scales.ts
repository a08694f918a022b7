import type { Document } from '@gltf-transform/core';
import { ownNames } from '@/core/plan/plan-names';
import { AS_IT_IS, planSkeleton } from '@/core/plan/plan-skeleton';
import { REST_POSE } from '@/core/rig/pose';
import type { Rig } from '@/core/rig/rig';
import { rebindMeshes } from '../rebind-meshes';
import { moveRigidNodes, rebuildTree } from '../rebuild-tree';
import { rewriteClips } from '../rewrite-clips';

/**
 * Takes the scales off all joints: the mesh is bound again as it rests, so that it keeps its shape, and clips are rewritten.
 * @param rig of the document as it stands.
 * @throws {YarvoError} `zero-scale`
 */
export function applyScales(document: Document, rig: Rig): void {
  const skeleton = planSkeleton(rig, REST_POSE, AS_IT_IS);
  const nodes = document.getRoot().listNodes();
  const bones = rig.bones.map(({ nodeIndex }) => nodes[nodeIndex]);
  const boneOf = new Map(bones.map((node, index) => [node, index]));
  rebindMeshes(document, boneOf, skeleton);
  moveRigidNodes(document, boneOf, skeleton, rig);
  rebuildTree(document, bones, rig, skeleton, ownNames(rig));
  rewriteClips(document, bones, boneOf, skeleton);
}
