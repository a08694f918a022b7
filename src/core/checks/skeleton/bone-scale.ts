import { boneRolesOf } from '../../fit/fit';
import { determinant3, decompose } from '../../math/mat4';
import type { Bone } from '../../rig/rig';
import { listNames, type Check, type FindingDraft } from '../finding';

interface Scaled {
  readonly bone: Bone;
  readonly text: string;
  readonly aspect: 'zero' | 'negative' | 'uneven' | 'shear' | 'uniform' | null;
}

const SHEAR = 0.01;
const ZERO = 1e-6;

const TEXT = {
  zero: 'a scale of zero',
  negative: 'a negative scale',
  uneven: 'an uneven scale',
  shear: 'a shear',
} as const;

/**
 * Scale on bones. Uniform scale is always written out; what is uneven, negative or sheared can be applied to mesh and joints
 * where the file is read; zero cannot be.
 */
export const checkBoneScale: Check = ({ rig, profile, fit }) => {
  const mapped = boneRolesOf(fit);
  const all = rig.bones.map((bone): Scaled => {
    const { scale, shear } = decompose(bone.restWorld);
    const sizes = scale.map(Math.abs);
    const [low, high] = [Math.min(...sizes), Math.max(...sizes)];
    const isUneven = high / low > 1 + profile.boneScaleTolerance * 10;
    const aspect =
      low <= ZERO
        ? 'zero'
        : determinant3(bone.restWorld) < 0
          ? 'negative'
          : shear > SHEAR
            ? 'shear'
            : isUneven
              ? 'uneven'
              : Math.abs(high - 1) > profile.boneScaleTolerance
                ? 'uniform'
                : null;
    return { bone, text: scale.map((value) => value.toFixed(3)).join(' × '), aspect };
  });
  const found = (['zero', 'negative', 'uneven', 'shear'] as const).flatMap((aspect): FindingDraft[] => {
    const bad = all.filter((each) => each.aspect === aspect);
    if (bad.length === 0) return [];
    // What hangs below inherits it: where it comes from is where the bone's own scale is off.
    const own = bad.filter(({ bone }) => isOff(bone.rest.scale));
    const causes = own.length > 0 ? own : bad;
    return [
      {
        aspect,
        severity: bad.some(({ bone }) => mapped.has(bone.index)) ? 'blocker' : 'caution',
        sentence: `${listNames(
          causes.map(({ bone }) => bone.name),
          3,
        )} ${causes.length === 1 ? 'has' : 'have'} ${TEXT[aspect]}${bad.length > causes.length ? `; ${bad.length - causes.length} bones below inherit it` : ''}.`,
        measured: causes[0].text,
        allowed: 'one positive scale for all axes',
        why: 'Rotations below an uneven scale shear the mesh, and engines drop what they cannot hold.',
        remedy:
          aspect === 'zero'
            ? 'Give the bone a scale in the source file, then take it in again.'
            : 'Apply the scale to mesh and joints: the mesh keeps its shape, bones have none any more.',
        boneIndices: causes.map(({ bone }) => bone.index),
        repair: aspect === 'zero' ? null : 'apply-scale',
      },
    ];
  });
  const uniform = all.filter(({ aspect }) => aspect === 'uniform');
  if (uniform.length > 0) {
    found.push({
      aspect: 'uniform',
      severity: 'note',
      sentence: `${uniform.length} ${uniform.length === 1 ? 'bone carries' : 'bones carry'} a scale of ${uniform[0].text}.`,
      measured: uniform[0].text,
      allowed: '1.000 × 1.000 × 1.000',
      why: 'Attached props would inherit the scale.',
      remedy: 'Handoff writes all bones without scale.',
      boneIndices: uniform.map(({ bone }) => bone.index),
    });
  }
  return found;
};

const isOff = ([x, y, z]: readonly [number, number, number]): boolean =>
  Math.min(x, y, z) <= ZERO || Math.max(x, y, z) / Math.min(x, y, z) > 1 + SHEAR;
