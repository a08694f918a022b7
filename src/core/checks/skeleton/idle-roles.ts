import { boneRolesOf } from '../../fit/fit';
import { labelOf, type Check, type FindingDraft } from '../finding';

/** A bone in a required role moves something of the mesh, itself or by what hangs on it. */
export const checkIdleRoles: Check = (plan) => {
  const { rig, fit, definition, profile } = plan;
  if (rig.skinCount === 0) return [];
  const carries = rig.bones.map(({ skinVertexCount }) => skinVertexCount > 0);
  const held = new Set(rig.extras.filter(({ kind }) => kind === 'rigid-mesh').map(({ parentBone }) => parentBone));
  for (const bone of held) if (bone >= 0) carries[bone] = true;
  const mapped = boneRolesOf(fit);
  // What hangs between a mapped bone and the next one, twist bones among it, moves with it.
  for (const { index, parent } of [...rig.bones].reverse())
    if (parent >= 0 && carries[index] && !mapped.has(index)) carries[parent] = true;
  return definition.roles.flatMap((role): FindingDraft[] => {
    const bone = fit.assignments[role.id]?.boneIndex;
    const isRequired = role.required || profile.requiredRoles.includes(role.id);
    if (bone === undefined || !isRequired || carries[bone]) return [];
    return [
      {
        aspect: 'idle',
        severity: 'caution',
        sentence: `${labelOf(plan, role.id)} (${rig.bones[bone].name}) moves nothing of the mesh.`,
        measured: '0 vertices',
        allowed: 'at least 1',
        amount: { measured: 0, allowed: 1, unit: 'vertices' },
        why: 'The limb stays still where this bone is animated; most often another bone carries the skin.',
        remedy: 'On Match, look at which bone carries the skin there.',
        boneIndices: [bone],
        roles: [role.id],
      },
    ];
  });
};
