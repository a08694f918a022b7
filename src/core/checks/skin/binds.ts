import { factsOf, listNames, type Check, type FindingDraft } from '../finding';

/** Every joint of a skin has one inverse bind matrix that can be inverted. */
export const checkBinds: Check = (plan) => {
  const { rig } = plan;
  return factsOf(plan).skins.flatMap(({ name, bones, matrices, degenerate }): FindingDraft[] => {
    const found: FindingDraft[] = [];
    if (degenerate.length > 0)
      found.push({
        aspect: 'degenerate',
        severity: 'blocker',
        sentence: `The inverse bind matrix of ${listNames(degenerate.map((bone) => rig.bones[bone].name))} in ${name} cannot be inverted.`,
        measured: `${degenerate.length} matrices`,
        allowed: 'none',
        amount: { measured: degenerate.length, allowed: 0, unit: 'matrices' },
        why: 'What these bones move is pressed flat, or gone.',
        remedy: 'Take the bind pose of these bones from the rest pose.',
        boneIndices: degenerate,
        parts: [name],
        repair: 'mend-binds',
      });
    if (matrices !== null && matrices < bones.length)
      found.push({
        aspect: 'missing',
        severity: 'blocker',
        sentence: `${name} has ${matrices} inverse bind matrices for ${bones.length} joints; ${listNames(bones.slice(matrices).flatMap((bone) => rig.bones[bone]?.name ?? []))} ${bones.length - matrices === 1 ? 'has' : 'have'} none.`,
        measured: `${matrices} matrices`,
        allowed: `${bones.length}`,
        amount: { measured: matrices, allowed: bones.length, unit: 'matrices' },
        why: 'What these bones move has no place.',
        remedy: 'Take the bind pose of these bones from the rest pose.',
        boneIndices: bones.slice(matrices).filter((bone) => bone >= 0),
        parts: [name],
        repair: 'mend-binds',
      });
    if (matrices !== null && matrices > bones.length)
      found.push({
        aspect: 'unreferenced',
        severity: 'note',
        sentence: `${name} has ${matrices} inverse bind matrices for ${bones.length} joints.`,
        measured: `${matrices} matrices`,
        allowed: `${bones.length}`,
        amount: { measured: matrices, allowed: bones.length, unit: 'matrices' },
        why: 'Matrices that belong to no joint are dead weight, and a sign of joints that were lost.',
        remedy: 'Drop the ones that no joint has.',
        parts: [name],
        repair: 'mend-binds',
      });
    return found;
  });
};
