import { carryMany, type CarriedCell, type Passenger } from '@/core/drill/carry-many';
import { makeMotion, type MotionRecipe } from '@/core/drill/make-motion';
import type { RootTravel } from '@/core/motion/carry-options';

export interface CarryManyInput {
  readonly recipe: MotionRecipe;
  readonly travel: RootTravel;
  readonly passengers: readonly Passenger[];
}

export interface CarriedMany {
  readonly frames: number;
  readonly framesPerSecond: number;
  readonly cells: readonly CarriedCell[];
}

/** Makes a motion and carries it to some characters. @throws {YarvoError} where it cannot be made. */
export function makeAndCarry({ recipe, travel, passengers }: CarryManyInput): CarriedMany {
  const { motion } = makeMotion(recipe);
  const { frameCount: frames, framesPerSecond } = motion;
  return { frames, framesPerSecond, cells: carryMany(motion, passengers, travel) };
}
