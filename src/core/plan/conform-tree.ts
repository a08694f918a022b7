import type { TreeRepair } from '../intake/decisions';
import { isAbove, parentsOf } from '../rig/bone-tree';
import type { HandoffPlan } from './handoff-plan';
import { pairedWith } from './pair-bones';
import { shippedAbove } from './shipped-tree';

/**
 * How the character's bones must be hung, so that its tree is that of the skeleton that the profile ships: each bone on
 * the one that stands for the nearest shipped bone above. Bones that hang right are left; one that would come below
 * itself is left too, and stays a finding.
 * @param originOf index in the file as read of a node of the plan's rig.
 */
export function conformTree(subject: Subject, originOf: (node: number) => number): TreeRepair[] {
  const { rig, profile } = subject;
  if (!profile.skeleton) return [];
  const { shipped, pairs } = pairedWith(subject, profile.skeleton);
  const parents = parentsOf(rig);
  const node = (bone: number): number => originOf(rig.bones[bone].nodeIndex);
  const nameOf = (bone: number): string => rig.bones[bone].name.trim().slice(0, 200) || 'bone';
  const found: TreeRepair[] = [];
  for (const [theirs, own] of [...pairs].sort(([a], [b]) => a - b)) {
    const above = shippedAbove(shipped, theirs).find((each) => pairs.has(each));
    const parent = above === undefined ? -1 : (pairs.get(above) as number);
    if (parent < 0 || parents[own] === parent || isAbove(parents, own, parent)) continue;
    found.push({
      kind: 'reparent',
      node: node(own),
      parent: node(parent),
      name: nameOf(own),
      parentName: nameOf(parent),
    });
    parents[own] = parent;
  }
  return found;
}

/** Bones of the character that the shipped skeleton does not have, from the ends up. */
export function extraBones(subject: Subject): number[] {
  const { rig, profile } = subject;
  if (!profile.skeleton) return [];
  const kept = new Set(pairedWith(subject, profile.skeleton).pairs.values());
  return rig.bones.flatMap(({ index, parent }) => (kept.has(index) || parent < 0 ? [] : [index])).reverse();
}

type Subject = Pick<HandoffPlan, 'rig' | 'fit' | 'definition' | 'profile' | 'names'>;
