import type { Document } from '@gltf-transform/core';
import type { NamePlan } from '@/core/plan/plan-names';
import type { SkeletonPlan } from '@/core/plan/plan-skeleton';
import type { Rig } from '@/core/rig/rig';
import { addBones, NOTHING_ADDED, type AddedBones } from './add-bones';
import { dropExtras } from './drop-extras';
import { removeFacts } from './facts';
import { nameMorphs } from './name-morphs';
import { rebindMeshes } from './rebind-meshes';
import { moveRigidNodes, rebuildTree } from './rebuild-tree';
import { rewriteClips } from './rewrite-clips';

export interface HandoffReport {
  /** Nodes of the file that were not written: cameras, lights, empty containers. */
  readonly leftOut: readonly string[];
  /** Constant keys added to clips for joints that the posture changed. */
  readonly constantKeys: number;
}

/**
 * Writes the character into the posture with the studio's names ("new bind"): every vertex is skinned into the posture
 * and the skin is bound there again. Changes `document`; pass one that was read for this purpose.
 */
export function writeHandoff(
  document: Document,
  rig: Rig,
  skeleton: SkeletonPlan,
  names: NamePlan,
  more: AddedBones = NOTHING_ADDED,
): HandoffReport {
  const nodes = document.getRoot().listNodes();
  const bones = rig.bones.map((bone) => nodes[bone.nodeIndex]);
  const boneOf = new Map(bones.map((node, index) => [node, index]));
  const leftOut: string[] = [];
  rebindMeshes(document, boneOf, skeleton);
  moveRigidNodes(document, boneOf, skeleton, rig);
  rebuildTree(document, bones, rig, skeleton, names);
  const added = addBones(document, bones, skeleton, names, more);
  const constantKeys = rewriteClips(document, bones, boneOf, skeleton);
  dropExtras(document, new Map([...boneOf, ...added.map((node) => [node, -1] as const)]), leftOut);
  for (const accessor of document.getRoot().listAccessors()) {
    if (accessor.listParents().every((parent) => parent.propertyType === 'Root')) accessor.dispose();
  }
  nameMorphs(document, more.morphs ?? new Map());
  removeFacts(document);
  document.getRoot().getAsset().generator = 'Yarvo handoff';
  return { leftOut, constantKeys };
}
