import { rootAboveHips } from '../../fit/fit';
import { factsOf, type Check, type FindingDraft } from '../finding';

/** Of the figure's height: less than this is no travel. */
const LEAST_SHARE = 0.5;

/** Clips travel where the engine expects it: in the root, in the hips, or not at all. */
export const checkClipTravel: Check = (plan) => {
  const { rig, fit, profile, normalisation } = plan;
  const { travel } = profile.clips;
  const hips = fit.assignments.hips?.boneIndex;
  if (travel === null || hips === undefined) return [];
  const root = rootAboveHips(rig, fit);
  const wanted = travel === 'root' ? root : travel === 'hips' ? hips : null;
  return factsOf(plan).clips.flatMap(({ name, travels }): FindingDraft[] => {
    const far = travels.find(
      ({ bone, reach }) =>
        (bone === hips || bone === root) && bone !== wanted && reach > normalisation.heightFile * LEAST_SHARE,
    );
    if (!far) return [];
    const metres = far.reach * normalisation.scale;
    return [
      {
        aspect: 'travel',
        severity: 'caution',
        sentence: `The clip ${name} travels ${metres.toFixed(2)} m in ${rig.bones[far.bone].name}; ${profile.label} wants travel in ${travel === 'none' ? 'nothing' : `the ${travel}`}.`,
        measured: `in ${rig.bones[far.bone].name}`,
        allowed: travel === 'none' ? 'no travel' : `in the ${travel}`,
        amount: { measured: metres, allowed: normalisation.heightMetres * LEAST_SHARE, unit: 'm' },
        why: 'The capsule stays behind while the figure walks off.',
        remedy: 'Take the clip onto the shelf and hand its travel to the root in the Drill.',
        boneIndices: [far.bone],
        parts: [name],
      },
    ];
  });
};
