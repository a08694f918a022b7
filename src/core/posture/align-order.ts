import type { Role } from '../definition/definition';
import { endsOf, type FrameInput } from './role-frames';

export type AlignInput = Omit<FrameInput, 'worlds'>;

/**
 * Whether what ends a segment hangs on its bone. Where it does not (a hand that is a tree of its own, fingers under a
 * target) no turn of the bone takes it along: the segment would be torn off instead of aligned.
 */
export function carriesItsEnd({ rig, definition, roleBones }: AlignInput, role: string): boolean {
  const ends = endsOf(role, { definition, roleBones });
  const top = roleBones.get(role);
  const hangs = (bone: number): boolean => bone >= 0 && (bone === top || hangs(rig.bones[bone].parent));
  return ends.length === 0 || ends.some(hangs);
}

/** Definition order is not trusted: a role comes after the role above it. */
export function parentsFirst({ definition, roleBones }: AlignInput): Role[] {
  const depth = (role: Role): number => {
    const parent = definition.roles.find((candidate) => candidate.id === role.parent);
    return parent ? depth(parent) + 1 : 0;
  };
  return definition.roles
    .filter((role) => roleBones.has(role.id))
    .map((role) => ({ role, depth: depth(role) }))
    .sort((a, b) => a.depth - b.depth)
    .map(({ role }) => role);
}
