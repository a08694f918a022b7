import { boneRolesOf } from '../../fit/fit';
import type { Vec3 } from '../../math/vec3';
import type { Check, FindingDraft } from '../finding';

/** Of the mesh's largest extent: how far outside the mesh a joint may be. */
const FAR_SHARE = 0.25;

/** A bone that moves the mesh, or has a role, lies in it or near it. */
export const checkFarBone: Check = ({ rig, fit, normalisation }) => {
  const { bounds } = rig.mesh;
  if (!bounds) return [];
  const mapped = boneRolesOf(fit);
  const extent = Math.max(...[0, 1, 2].map((axis) => bounds.max[axis] - bounds.min[axis]));
  const away = ({ restWorld }: (typeof rig.bones)[number]): number => {
    const place: Vec3 = [restWorld[12], restWorld[13], restWorld[14]];
    return Math.hypot(...place.map((value, axis) => Math.max(0, bounds.min[axis] - value, value - bounds.max[axis])));
  };
  return rig.bones.flatMap((bone): FindingDraft[] => {
    if (bone.skinVertexCount === 0 && !mapped.has(bone.index)) return [];
    const distance = away(bone);
    if (!(distance > extent * FAR_SHARE)) return [];
    const metres = distance * normalisation.scale;
    const most = extent * FAR_SHARE * normalisation.scale;
    return [
      {
        aspect: 'outside',
        severity: 'caution',
        sentence: `${bone.name} lies ${metres.toFixed(2)} m outside the mesh.`,
        measured: `${metres.toFixed(2)} m`,
        allowed: `within ${most.toFixed(2)} m`,
        amount: { measured: metres, allowed: most, unit: 'm' },
        why: 'What it moves swings about a point far away, and bounds that engines take from bones grow.',
        remedy: 'Put the joint into the body in the source file; check on Intake which pose counts as the rest.',
        boneIndices: [bone.index],
      },
    ];
  });
};
