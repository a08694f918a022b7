import type { Document, Node } from '@gltf-transform/core';
import { decompose, invertAffine, multiply, IDENTITY, type Mat4 } from '@/core/math/mat4';
import type { PlannedBone } from '@/core/plan/plan-helpers';
import type { NamePlan } from '@/core/plan/plan-names';
import type { SkeletonPlan } from '@/core/plan/plan-skeleton';
import { detach } from './document-parts';
import { bindJoint } from './rebuild-tree';

/** What handoff adds to the bones of a file. */
export interface AddedBones {
  readonly bones: readonly PlannedBone[];
  /** The file's own bones that hang on added ones, by index: place in `bones`. */
  readonly hung: ReadonlyMap<number, number>;
  /** Morph targets that are written under another name. */
  readonly morphs?: ReadonlyMap<string, string>;
}

export const NOTHING_ADDED: AddedBones = { bones: [], hung: new Map() };

/**
 * Adds bones that the engine wants: nodes below the bones that they hang on, the root, or the scene where there is none;
 * listed by the first skin, so that readers count them as bones. Runs after the tree is rebuilt. @returns the new nodes.
 */
export function addBones(
  document: Document,
  bones: readonly Node[],
  skeleton: SkeletonPlan,
  names: NamePlan,
  { bones: wanted, hung }: AddedBones,
): Node[] {
  const root = document.getRoot();
  const [scene] = root.listScenes();
  const top =
    root.listNodes().find((node) => node.getName() === names.rootName) ?? bones.find((node) => !node.getParentNode());
  const added: Node[] = [];
  for (const { name, parent, world } of wanted) {
    const node = document.createNode(name);
    const [above, aboveWorld] = holderOf(parent);
    const { translation, rotation } = decompose(multiply(invertAffine(aboveWorld) ?? IDENTITY, world));
    node.setTranslation([...translation]).setRotation([...rotation]);
    if (above) above.addChild(node);
    else scene.addChild(node);
    for (const skin of root.listSkins().slice(0, 1)) bindJoint(document, skin, node, world);
    added.push(node);
  }
  for (const [bone, at] of hung) {
    detach(bones[bone]);
    scene.removeChild(bones[bone]);
    added[at].addChild(bones[bone]);
  }
  // What a skin named as its top may hang below something else now.
  if (hung.size > 0) for (const skin of root.listSkins()) skin.setSkeleton(null);
  return added;

  function holderOf(parent: PlannedBone['parent']): readonly [Node | undefined, Mat4] {
    switch (parent.kind) {
      case 'bone':
        return [bones[parent.bone], skeleton.worlds[parent.bone]];
      case 'added':
        return [added[parent.at], wanted[parent.at].world];
      case 'root': {
        const own = top ? bones.indexOf(top) : -1;
        return [top, own >= 0 ? skeleton.worlds[own] : IDENTITY];
      }
      case 'none':
        return [undefined, IDENTITY];
    }
  }
}
