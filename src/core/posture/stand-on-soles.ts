import { axisVector, type AxisName } from '../frame/normalise';
import type { Vec3 } from '../math/vec3';
import type { RigPose } from '../rig/pose';
import type { Stature } from './stature';

/** The lower sole's height, metres; null without feet. */
export const lowerSole = ({ leftSole, rightSole }: Stature): number | null =>
  leftSole === null ? rightSole : rightSole === null ? leftSole : Math.min(leftSole, rightSole);

/**
 * Lifts or lowers the hips so that the lower sole stands at a height again.
 *
 * @param after stature in `pose`.
 * @param height where the sole is to stand, metres.
 */
export function standOnSoles(
  pose: RigPose,
  after: Stature,
  height: number,
  hips: number | undefined,
  normalisation: { readonly up: AxisName; readonly scale: number },
): RigPose {
  const sole = lowerSole(after);
  if (sole === null || hips === undefined) return pose;
  const up = axisVector(normalisation.up);
  const rise = (height - sole) / normalisation.scale;
  const known: Vec3 = pose.shift?.offset ?? [0, 0, 0];
  const offset: Vec3 = [known[0] + up[0] * rise, known[1] + up[1] * rise, known[2] + up[2] * rise];
  return { ...pose, shift: Math.hypot(...offset) > 1e-9 ? { boneIndex: hips, offset } : null };
}
