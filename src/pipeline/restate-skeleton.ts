import { decompose } from '@/core/math/mat4';
import { conformSkeleton, shippedTurns } from '@/core/plan/conform-skeleton';
import type { HandoffPlan } from '@/core/plan/handoff-plan';
import { ownNames } from '@/core/plan/plan-names';
import { AS_IT_IS, planSkeleton } from '@/core/plan/plan-skeleton';
import { shippedTree } from '@/core/plan/shipped-tree';
import { REST_POSE } from '@/core/rig/pose';
import { writeHandoff } from '@/document/write-handoff';
import { createNodeIO } from '@/formats/gltf/node-io';
import { readGlb } from './read-files';

/**
 * A file that was written under the plan's names and in its pose, with its joints turned, hung and placed as the plan has
 * them: clips and all. The same bytes where the plan leaves the character's own axes and tree.
 */
export async function restated(glb: Uint8Array, plan: HandoffPlan, place: string): Promise<Uint8Array> {
  const { options, profile, definition, names, skeleton } = plan;
  const shipped = options.conform && profile.skeleton ? shippedTree(profile.skeleton, definition) : null;
  if ((!shipped && !options.reorients) || 'problem' in skeleton) return glb;
  const { rig, document } = await readGlb(glb, place);
  const byName = new Map(rig.bones.map(({ name, index }) => [name, index]));
  if (!shipped) {
    const turns = new Map(
      names.names.flatMap((name, bone) => {
        const own = byName.get(name);
        return own === undefined ? [] : [[own, decompose(skeleton.plan.worlds[bone]).rotation] as const];
      }),
    );
    writeHandoff(document, rig, planSkeleton(rig, REST_POSE, AS_IT_IS, 0, turns), ownNames(rig));
  } else {
    const pairs = new Map(
      shipped.bones.flatMap(({ name }, at) => {
        const own = byName.get(name);
        return own === undefined ? [] : [[at, own] as const];
      }),
    );
    const turned = planSkeleton(rig, REST_POSE, AS_IT_IS, 0, shippedTurns(shipped, pairs));
    const lengths = options.conform?.lengths ?? 'own';
    const conformed = conformSkeleton(turned, { rig, definition, profile, shipped, pairs, lengths });
    writeHandoff(document, rig, conformed.plan, ownNames(rig), { bones: conformed.added, hung: conformed.hung });
  }
  return createNodeIO().writeBinary(document);
}
