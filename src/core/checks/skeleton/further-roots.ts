import type { Rig } from '../../rig/rig';
import { listNames, type Check } from '../finding';

/** Whether no bone of these trees moves the mesh. */
function isIdle({ bones }: Rig, tops: readonly number[]): boolean {
  const below = new Set(tops);
  for (const { index, parent } of bones) if (below.has(parent)) below.add(index);
  return bones.every(({ index, skinVertexCount }) => !below.has(index) || skinVertexCount === 0);
}

/** One tree of bones: no second top bone that the figure does not hang on. */
export const checkFurtherRoots: Check = ({ rig }) => {
  const further = rig.extras.filter(({ kind }) => kind === 'further-root');
  if (further.length === 0) return [];
  const byNode = new Map(rig.bones.map(({ nodeIndex, index }) => [nodeIndex, index]));
  return [
    {
      aspect: 'trees',
      severity: 'caution',
      sentence: `${further.length === 1 ? 'A second tree of bones starts' : `${further.length} further trees of bones start`} at ${listNames(further.map(({ name }) => name))}.`,
      measured: `${further.length + 1} trees`,
      allowed: 'one',
      amount: { measured: further.length + 1, allowed: 1, unit: 'trees' },
      why: 'An engine takes one root for a skeleton; what hangs on another one stays where it is.',
      remedy: 'Leave out what is not of the figure on Intake, or hang it on a bone of the figure on Match.',
      boneIndices: further.flatMap(({ nodeIndex }) => byNode.get(nodeIndex) ?? []),
      parts: further.map(({ name }) => name),
      // What still moves the mesh cannot be left out.
      repair: isIdle(
        rig,
        further.map(({ nodeIndex }) => byNode.get(nodeIndex) ?? -1),
      )
        ? 'drop-extras'
        : null,
    },
  ];
};
