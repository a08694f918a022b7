import { decompose, type Mat4 } from '../math/mat4';
import { angleOf, conjugate, multiply } from '../math/quat';
import { distance } from '../math/vec3';

/** How far a pose of a rig lies from its file rest. */
export interface PoseDifference {
  /** Bones that turn by more than a degree or move by more than a thousandth of the figure. */
  readonly boneCount: number;
  readonly maxDegrees: number;
  /** File units. */
  readonly maxDistance: number;
  /** Bone that differs most, or -1. */
  readonly worstBone: number;
}

const NOTICED_DEGREES = 1;
const NOTICED_SHARE = 1e-3;

/**
 * Compares world transforms bone by bone; a bone that one pose does not know (null) is left out.
 * @param size largest extent of the figure, file units.
 */
export function comparePoses(rest: readonly Mat4[], pose: readonly (Mat4 | null)[], size: number): PoseDifference {
  let [boneCount, maxDegrees, maxDistance, worstBone, worst] = [0, 0, 0, -1, 0];
  pose.forEach((world, bone) => {
    if (!world) return;
    const [a, b] = [decompose(rest[bone]), decompose(world)];
    const degrees = (angleOf(multiply(b.rotation, conjugate(a.rotation))) * 180) / Math.PI;
    const moved = distance(a.translation, b.translation);
    maxDegrees = Math.max(maxDegrees, degrees);
    maxDistance = Math.max(maxDistance, moved);
    const isNoticed = degrees > NOTICED_DEGREES || moved > size * NOTICED_SHARE;
    if (isNoticed) boneCount++;
    const rank = degrees + (size > 0 ? (moved / size) * 90 : 0);
    if (isNoticed && rank > worst) [worst, worstBone] = [rank, bone];
  });
  return { boneCount, maxDegrees, maxDistance, worstBone };
}
