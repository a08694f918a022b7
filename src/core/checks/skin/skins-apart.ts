import { factsOf, listNames, type Check } from '../finding';

/** All skins bind to one tree of bones, and engines that take one skin for a character get one. */
export const checkSkinsApart: Check = (plan) => {
  const { skins } = factsOf(plan);
  const { rig } = plan;
  const topOf = (bone: number): number => {
    let at = bone;
    while (rig.bones[at].parent >= 0) at = rig.bones[at].parent;
    return at;
  };
  const tops = skins.map(({ bones }) => new Set(bones.filter((bone) => bone >= 0).map(topOf)));
  const all = new Set(tops.flatMap((each) => [...each]));
  if (skins.length < 2 || all.size < 2) return [];
  return [
    {
      aspect: 'trees',
      severity: 'caution',
      sentence: `${skins.length} skins bind to ${all.size} trees of bones: ${listNames([...all].map((bone) => rig.bones[bone].name))}.`,
      measured: `${all.size} trees`,
      allowed: 'one',
      amount: { measured: all.size, allowed: 1, unit: 'trees' },
      why: 'An engine takes one skeleton for a character; parts on another one are left behind.',
      remedy: 'Fold copied bones, or hang one tree on the other on Match.',
      boneIndices: [...all],
      parts: skins.map(({ name }) => name),
    },
  ];
};
