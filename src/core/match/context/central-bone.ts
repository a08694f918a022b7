import { distance } from '../../math/vec3';
import type { RigShape } from '../../rig/rig-shape';

/** Of some bones the one whose distances to all bones add up to least. */
export function mostCentral(shape: RigShape, candidates: readonly number[]): number {
  let best = candidates[0];
  let bestSum = Infinity;
  for (const bone of candidates) {
    let sum = 0;
    for (let other = 0; other < shape.boneCount && sum < bestSum; other++)
      sum += distance(shape.positions[bone], shape.positions[other]);
    if (sum < bestSum) [best, bestSum] = [bone, sum];
  }
  return best;
}
