import { dot } from '../../math/vec3';
import type { RigShape } from '../../rig/rig-shape';
import { pairsByTree, planeOf } from '../mirror/mirror-plane';
import { CENTRE_SHARE } from '../mirror/shape-pairs';

/** Of some bones those that lie in the plane between the sides, as a trunk does and no limb; all where none does. */
export function inMiddle(shape: RigShape, bones: readonly number[]): readonly number[] {
  const { normal, offset } = planeOf(pairsByTree(shape), shape);
  const within = bones.filter(
    (bone) => Math.abs(dot(shape.positions[bone], normal) - offset) < 2 * CENTRE_SHARE * shape.size,
  );
  return within.length > 0 ? within : bones;
}
