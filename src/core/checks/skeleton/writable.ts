import type { Check } from '../finding';

/** The skeleton can be written as it is planned. What keeps it from being is told by its own reason. */
export const checkWritable: Check = ({ skeleton, rig }) => {
  if (!('problem' in skeleton) || skeleton.problem.code === 'zero-scale') return [];
  const { code, message, place, remedy } = skeleton.problem;
  const bone = rig.bones.find(({ name }) => place === `bone ${name}`);
  return [
    {
      aspect: code,
      severity: 'blocker',
      sentence: `${bone ? `${bone.name}: ` : ''}${message}`,
      measured: 'cannot be written',
      allowed: 'a skeleton that can be written',
      why: 'Nothing can be handed off while this stands.',
      remedy,
      boneIndices: bone ? [bone.index] : [],
    },
  ];
};
