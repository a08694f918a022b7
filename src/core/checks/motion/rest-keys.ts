import { factsOf, type Check, type FindingDraft } from '../finding';

/** No clip is left over that only holds the figure in its rest pose. */
export const checkRestKeys: Check = (plan) =>
  factsOf(plan).clips.flatMap(({ name, channels, foreign, resting }, at): FindingDraft[] => {
    const clip = plan.rig.clips[at];
    const moved = clip ? clip.boneCount - resting.length : 0;
    if (resting.length === 0 || moved > 0 || foreign === channels) return [];
    return [
      {
        aspect: 'leftover',
        severity: 'caution',
        sentence: `The clip ${name} holds ${resting.length} bones at rest and moves none.`,
        measured: `${resting.length} bones at rest`,
        allowed: 'clips that move',
        amount: { measured: resting.length, allowed: 0, unit: 'bones' },
        why: 'Leftover keys win over the posture, and come along as a clip that does nothing.',
        remedy: 'Drop these keys, and the clip with them.',
        boneIndices: resting,
        parts: [name],
        repair: 'drop-rest-keys',
      },
    ];
  });
