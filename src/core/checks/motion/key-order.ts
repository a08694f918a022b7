import { factsOf, listNames, type Check, type FindingDraft } from '../finding';

/** Keys follow each other in time, and hold turns and places. */
export const checkKeyOrder: Check = (plan) =>
  factsOf(plan).clips.flatMap(({ name, unordered, broken }): FindingDraft[] => {
    const draft = (aspect: string, bones: readonly number[], what: string, allowed: string): FindingDraft[] =>
      bones.length === 0
        ? []
        : [
            {
              aspect,
              severity: 'blocker',
              sentence: `The clip ${name} has ${what} for ${listNames(bones.map((bone) => plan.rig.bones[bone].name))}.`,
              measured: `${bones.length} bones`,
              allowed,
              amount: { measured: bones.length, allowed: 0, unit: 'bones' },
              why: 'Players search keys by time; from such a key on the bone jumps or is gone.',
              remedy: 'Sort the keys by time, and drop those that are no turn or place.',
              boneIndices: [...bones],
              parts: [name],
              repair: 'sort-keys',
            },
          ];
    return [
      ...draft('order', unordered, 'keys out of order', 'keys in the order of time'),
      ...draft('broken', broken, 'keys that are not finite', 'finite turns and places'),
    ];
  });
