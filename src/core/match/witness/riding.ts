import type { RigShape } from '../../rig/rig-shape';
import { strayOf, type MotionWitness } from './motion-witness';

/** What the clips say against `bone` hanging on `on`, as a share of the rig's size: 0 where it rides on it. */
export type Riding = (on: number, bone: number) => number;

/** What rides on a bone strays no farther in its space than this share of the rig's size; stretched limbs a little. */
const RIDES = 0.015;
const RIDES_NOT = 1.5;
/** Pairs of more bones than this are too many to look at. */
const MOST_BONES = 400;

/** Which bones ride on which, looked at once per pair; null without clips. */
export function createRiding({ boneCount }: RigShape, witness: MotionWitness | null): Riding | null {
  if (!witness || boneCount > MOST_BONES) return null;
  const known = new Map<number, number>();
  return (on, bone) => {
    const key = on * boneCount + bone;
    let cost = known.get(key);
    if (cost === undefined) {
      cost = strayOf(witness, on, bone) > RIDES ? RIDES_NOT : 0;
      known.set(key, cost);
    }
    return cost;
  };
}
