import { decompose } from '../../math/mat4';
import { listNames, type Check } from '../finding';

/** Scale on bones: uniform is written out at handoff; uneven, negative or zero scale and shear cannot be. */
export const checkBoneScale: Check = ({ rig, profile, fit }) => {
  const mapped = new Set(Object.values(fit.assignments).map((assignment) => assignment.boneIndex));
  const bad: { index: number; name: string; scale: string }[] = [];
  const uniform: typeof bad = [];
  for (const bone of rig.bones) {
    const { scale, shear } = decompose(bone.restWorld);
    const text = scale.map((value) => value.toFixed(3)).join(' × ');
    const [low, high] = [Math.min(...scale), Math.max(...scale)];
    const entry = { index: bone.index, name: bone.name, scale: text };
    if (low <= 1e-6 || high / low > 1 + profile.boneScaleTolerance * 10 || shear > 0.01) bad.push(entry);
    else if (Math.abs(high - 1) > profile.boneScaleTolerance) uniform.push(entry);
  }
  const findings = [];
  if (bad.length > 0) {
    findings.push({
      aspect: 'uneven',
      severity: bad.some((entry) => mapped.has(entry.index)) ? ('blocker' as const) : ('caution' as const),
      sentence: `${listNames(
        bad.map((entry) => entry.name),
        3,
      )} ${bad.length === 1 ? 'has' : 'have'} an uneven, negative or zero scale.`,
      measured: bad[0].scale,
      allowed: 'one positive scale for all axes',
      why: 'Rotations below an uneven scale shear the mesh.',
      remedy: 'Apply the scale to mesh and joints, then export again.',
      boneIndices: bad.map((entry) => entry.index),
      roles: [],
    });
  }
  if (uniform.length > 0) {
    findings.push({
      aspect: 'uniform',
      severity: 'note' as const,
      sentence: `${uniform.length} ${uniform.length === 1 ? 'bone carries' : 'bones carry'} a scale of ${uniform[0].scale}.`,
      measured: uniform[0].scale,
      allowed: '1.000 × 1.000 × 1.000',
      why: 'Attached props would inherit the scale.',
      remedy: 'Handoff writes all bones without scale.',
      boneIndices: uniform.map((entry) => entry.index),
      roles: [],
    });
  }
  return findings;
};
