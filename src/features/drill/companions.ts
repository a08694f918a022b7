import { sideOfRole } from '@/core/definition/definition';
import { HOUSE_PARENTS, HOUSE_ROLES } from '@/core/house/house-body';
import { lineFitsOf } from '@/core/match/verdict/line-fits';
import type { Vec3 } from '@/core/math/vec3';
import type { FittedRig } from '@/core/motion/fitted-rig';
import { computeRigShape } from '@/core/rig/rig-shape';
import type { StageBone } from '@/ui/stage/overlay-types';
import type { PaneView } from '@/ui/stage/projection';

/** Bones of another figure with their sides, for its rods. */
export function companionBones({ rig, definition, roleBones }: FittedRig): StageBone[] {
  const sides = new Map<number, StageBone['side']>();
  for (const { lineId, bones } of lineFitsOf(computeRigShape(rig), definition, roleBones)) {
    const side = definition.lines.find(({ id }) => id === lineId)?.side ?? 'centre';
    for (const bone of bones) sides.set(bone, side);
  }
  for (const [role, bone] of roleBones) sides.set(bone, sideOfRole(definition, role) ?? 'centre');
  // A rod from the hips to a root far behind says nothing of the body.
  const hips = roleBones.get('hips');
  return rig.bones.map(({ index, name, parent }) => ({
    index,
    name,
    parent: index === hips ? -1 : parent,
    side: sides.get(index) ?? 'spare',
  }));
}

/** Bones of the house figure, for motions that have no figure of their own. */
export const houseBones = (): StageBone[] =>
  HOUSE_ROLES.map((role, index) => ({
    index,
    name: role,
    // Rods to the eyes would look like feelers.
    parent: /Eye|jaw/.test(role) ? -1 : HOUSE_ROLES.indexOf(HOUSE_PARENTS[role] ?? ''),
    side: role.startsWith('left') ? 'left' : role.startsWith('right') ? 'right' : 'centre',
  }));

/**
 * Where a figure stands beside the character: across the view, so that neither hides the other.
 * @param places how many gaps away; negative to the other side.
 */
export function asideOf(view: PaneView, gap: number, places: number): Vec3 {
  return view === 'side' ? [0, 0, gap * places] : [gap * places, 0, 0];
}
