import type { Definition } from '../../definition/definition';
import { pathBelow, type RigShape } from '../../rig/rig-shape';
import type { LineFit } from '../context/match-types';

/**
 * Orders the bones on each line of the definition and anchors its roles in them. Where a line may hold more bones than
 * roles, the bones between two anchors that follow each other in the tree are members of the run.
 *
 * @param bones role -> bone index.
 */
export function lineFitsOf(shape: RigShape, definition: Definition, bones: ReadonlyMap<string, number>): LineFit[] {
  const lines: LineFit[] = [];
  for (const line of definition.lines) {
    const ordered: number[] = [];
    const anchors: Record<string, number> = {};
    let previous = previousAnchor(definition, line.roles[0], bones);
    for (const role of line.roles) {
      const bone = bones.get(role);
      if (bone === undefined) continue;
      const between = line.maxBones > line.roles.length && previous >= 0 ? pathBelow(shape, previous, bone) : null;
      for (const member of between?.slice(0, -1) ?? [])
        if (!isTaken(member, bones) && !ordered.includes(member)) ordered.push(member);
      anchors[role] = ordered.length;
      ordered.push(bone);
      previous = bone;
    }
    if (ordered.length > 0) lines.push({ lineId: line.id, bones: ordered, anchors });
  }
  return lines;
}

const isTaken = (bone: number, bones: ReadonlyMap<string, number>): boolean => [...bones.values()].includes(bone);

/** The bone that the line continues from: the nearest mapped role above its first one. */
function previousAnchor(definition: Definition, firstRole: string, bones: ReadonlyMap<string, number>): number {
  let at = definition.roles.find((role) => role.id === firstRole)?.parent ?? null;
  while (at) {
    const bone = bones.get(at);
    if (bone !== undefined) return bone;
    at = definition.roles.find((role) => role.id === at)?.parent ?? null;
  }
  return -1;
}
