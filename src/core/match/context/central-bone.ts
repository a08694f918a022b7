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

/** Bones in the order of the sum of their distances to all bones, the least first. */
export function byCentrality(shape: RigShape, bones: readonly number[]): number[] {
  const sums = new Map(
    bones.map((bone) => [
      bone,
      shape.positions.reduce((sum, position) => sum + distance(shape.positions[bone], position), 0),
    ]),
  );
  return [...bones].sort((a, b) => (sums.get(a) ?? 0) - (sums.get(b) ?? 0));
}
