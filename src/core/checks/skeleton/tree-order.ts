import { roleOf } from '../../definition/definition';
import { isAbove, parentsOf } from '../../rig/bone-tree';
import type { HandoffPlan } from '../../plan/handoff-plan';
import { labelOf, type Check, type FindingDraft } from '../finding';

/** Mapped bones follow the order of the definition: each lies below the bone of the role above it. */
export const checkTreeOrder: Check = (input) => {
  const findings: FindingDraft[] = [];
  const parents = parentsOf(input.rig);
  for (const [role, { boneIndex }] of Object.entries(input.fit.assignments)) {
    const above = nearestMapped(input, role);
    if (!above) continue;
    const aboveBone = input.fit.assignments[above].boneIndex;
    if (isAbove(parents, aboveBone, boneIndex)) continue;
    const [name, aboveName] = [input.rig.bones[boneIndex].name, input.rig.bones[aboveBone].name];
    const parent = input.rig.bones[boneIndex].parent;
    findings.push({
      aspect: 'order',
      // A limb that hangs elsewhere on the body still follows it; an order turned round cannot work.
      severity: isAbove(parents, boneIndex, aboveBone) ? 'blocker' : 'caution',
      sentence: `${labelOf(input, role)} (${name}) does not lie below ${labelOf(input, above).toLowerCase()} (${aboveName}).`,
      measured: parent >= 0 ? `child of ${input.rig.bones[parent].name}` : 'no parent',
      allowed: `below ${aboveName}`,
      why: 'A rotation of the upper bone must carry the lower one along.',
      remedy: 'Check both roles on Match; one of them may have the wrong bone.',
      boneIndices: [boneIndex, aboveBone],
      roles: [role, above],
    });
  }
  return findings;
};

function nearestMapped(input: HandoffPlan, role: string): string | null {
  for (let at = roleOf(input.definition, role).parent; at; at = roleOf(input.definition, at).parent)
    if (at in input.fit.assignments) return at;
  return null;
}
