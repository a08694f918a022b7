import type { RigPose } from '../rig/pose';
import type { AlignInput } from './align-order';
import { liftHips } from './lift-hips';
import type { Stature } from './stature';

/** The lower sole's height, metres; null without feet. */
export const lowerSole = ({ leftSole, rightSole }: Pick<Stature, 'leftSole' | 'rightSole'>): number | null =>
  leftSole === null ? rightSole : rightSole === null ? leftSole : Math.min(leftSole, rightSole);

/**
 * Lifts or lowers the hips so that the lower sole stands at a height again.
 *
 * @param after stature in `pose`.
 * @param height where the sole is to stand, metres.
 */
export function standOnSoles(
  input: Pick<AlignInput, 'roleBones' | 'normalisation'>,
  pose: RigPose,
  after: Pick<Stature, 'leftSole' | 'rightSole'>,
  height: number,
): RigPose {
  const sole = lowerSole(after);
  return sole === null ? pose : liftHips(input, pose, (height - sole) / input.normalisation.scale);
}
