import { distance, type Vec3 } from '../../math/vec3';
import { labelOf, type Check, type FindingDraft } from '../finding';

/** Of the figure's height: a mapped segment shorter than this has no length. */
const LEAST_SHARE = 1e-4;

/** Every mapped segment has a length: its joint is away from the one of the role above. */
export const checkZeroLength: Check = (plan) => {
  const { rig, fit, definition, normalisation } = plan;
  const place = (bone: number): Vec3 => {
    const world = rig.bones[bone].restWorld;
    return [world[12], world[13], world[14]];
  };
  const lineOf = new Map(definition.roles.map(({ id, line }) => [id, line]));
  return definition.roles.flatMap(({ id, parent, line }): FindingDraft[] => {
    // Where a limb leaves the trunk, joints of several lines may share a place.
    if (!parent || lineOf.get(parent) !== line) return [];
    const own = fit.assignments[id]?.boneIndex;
    const above = fit.assignments[parent]?.boneIndex;
    if (own === undefined || above === undefined || own === above) return [];
    const length = distance(place(own), place(above));
    if (length > normalisation.heightFile * LEAST_SHARE) return [];
    const millimetres = length * normalisation.scale * 1000;
    const least = normalisation.heightMetres * LEAST_SHARE * 1000;
    return [
      {
        aspect: 'segment',
        severity: line === 'trunk' ? 'caution' : 'blocker',
        sentence: `The bone of ${labelOf(plan, parent).toLowerCase()}, ${rig.bones[above].name}, has no length: ${rig.bones[own].name} lies on it.`,
        measured: `${millimetres.toFixed(2)} mm`,
        allowed: `over ${least.toFixed(2)} mm`,
        amount: { measured: millimetres, allowed: least, unit: 'mm' },
        why: 'A segment without length has no direction, so no pose can be told from it.',
        remedy: 'Put the joint where the body folds, in the source file, or give the role another bone on Match.',
        boneIndices: [above, own],
        roles: [parent, id],
      },
    ];
  });
};
