import type { Document, Node } from '@gltf-transform/core';
import { decompose, invertAffine, multiply, IDENTITY } from '@/core/math/mat4';
import type { PlannedBone } from '@/core/plan/plan-helpers';
import type { NamePlan } from '@/core/plan/plan-names';
import type { SkeletonPlan } from '@/core/plan/plan-skeleton';
import { bindJoint } from './rebuild-tree';

/**
 * Adds bones that the engine wants: nodes below the bones that they hang on, the root, or the scene where there is none;
 * listed by the first skin, so that readers count them as bones. Runs after the tree is rebuilt. @returns the new nodes.
 */
export function addBones(
  document: Document,
  bones: readonly Node[],
  skeleton: SkeletonPlan,
  names: NamePlan,
  wanted: readonly PlannedBone[],
): Node[] {
  const root = document.getRoot();
  const [scene] = root.listScenes();
  const top =
    root.listNodes().find((node) => node.getName() === names.rootName) ?? bones.find((node) => !node.getParentNode());
  return wanted.map(({ name, parent, world }) => {
    const node = document.createNode(name);
    const above = parent >= 0 ? bones[parent] : top;
    const own = above ? bones.indexOf(above) : -1;
    const aboveWorld = own >= 0 ? skeleton.worlds[own] : IDENTITY;
    const { translation, rotation } = decompose(multiply(invertAffine(aboveWorld) ?? IDENTITY, world));
    node.setTranslation([...translation]).setRotation([...rotation]);
    if (above) above.addChild(node);
    else scene.addChild(node);
    for (const skin of root.listSkins().slice(0, 1)) bindJoint(document, skin, node, world);
    return node;
  });
}
