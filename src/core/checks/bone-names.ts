import { listNames, type Check, type FindingDraft } from './finding';

/** Names as the engine takes them: legal characters, length, and unique whatever the case. */
export const checkBoneNames: Check = ({ rig, profile, names }) => {
  const allowed = new RegExp(profile.names.allowed, 'u');
  const findings: FindingDraft[] = [];
  const renamed = rig.bones.filter((bone) => names.changedSpares.has(bone.index));
  if (renamed.length > 0) {
    const illegal = renamed.filter((bone) => !allowed.test(bone.name) || bone.name.length > profile.names.maxLength);
    findings.push({
      aspect: illegal.length > 0 ? 'illegal' : 'shared',
      severity: 'caution',
      sentence:
        illegal.length > 0
          ? `${illegal.length} spare ${illegal.length === 1 ? 'bone has a name' : 'bones have names'} the engine refuses: ${listNames(
              illegal.map((bone) => bone.name),
              3,
            )}.`
          : `${renamed.length} spare bones share their name with another bone: ${listNames(
              renamed.map((bone) => bone.name),
              3,
            )}.`,
      measured: `${renamed.length} names`,
      allowed: `${profile.names.allowedInWords}, at most ${profile.names.maxLength}, unique whatever the case`,
      why: 'Duplicate or illegal bone names break the import.',
      remedy: 'Handoff writes these names with underscores and a number where needed.',
      boneIndices: renamed.map((bone) => bone.index),
      roles: [],
    });
  }
  return findings;
};
