import { factsOf, type Check, type FindingDraft } from '../finding';

/** A clip of the file moves the figure in it. */
export const checkForeignClips: Check = (plan) =>
  factsOf(plan).clips.flatMap(({ name, channels, foreign }): FindingDraft[] => {
    if (foreign === 0 || plan.rig.bones.length === 0) return [];
    const isWhole = foreign === channels;
    return [
      {
        aspect: isWhole ? 'none' : 'some',
        severity: isWhole ? 'caution' : 'note',
        sentence: isWhole
          ? `The clip ${name} moves no bone of this figure.`
          : `${foreign} of ${channels} channels of the clip ${name} move no bone of this figure.`,
        measured: `${foreign} of ${channels} channels`,
        allowed: 'none',
        amount: { measured: foreign, allowed: 0, unit: 'channels' },
        why: 'It was made for another skeleton, or for props that are not handed off.',
        remedy: isWhole ? 'Leave the clip out.' : 'Handoff leaves these channels out with their nodes.',
        parts: [name],
        repair: isWhole ? 'drop-foreign-clips' : null,
      },
    ];
  });
