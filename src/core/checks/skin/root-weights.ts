import { rootAboveHips } from '../../fit/fit';
import type { Check } from '../finding';

/** The root moves nothing itself: it is where the engine moves the character by. */
export const checkRootWeights: Check = ({ rig, fit }) => {
  const root = rootAboveHips(rig, fit);
  if (root === null || rig.bones[root].skinVertexCount === 0) return [];
  const { name, skinVertexCount: count } = rig.bones[root];
  return [
    {
      aspect: 'root',
      severity: 'caution',
      sentence: `${count} vertices are weighted to the root ${name}.`,
      measured: `${count} vertices`,
      allowed: 'none',
      amount: { measured: count, allowed: 0, unit: 'vertices' },
      why: 'They stay on the floor origin while the body moves, and stretch the mesh.',
      remedy: 'Move these weights to the hips.',
      boneIndices: [root],
      repair: 'move-root-weights',
    },
  ];
};
