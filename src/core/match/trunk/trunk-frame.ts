import { normalise, subtract, lengthOf, type Vec3 } from '../../math/vec3';
import type { MatchContext } from '../context/context';
import { middleOf, type Limb } from '../limbs/limbs';

/** Where legs and arms leave, and the way from one to the other. */
export interface TrunkFrame {
  readonly legs: Limb;
  readonly arms: Limb;
  readonly legCentre: Vec3;
  readonly armCentre: Vec3;
  /** Unit vector from the legs to the arms; null when they share a place. */
  readonly axis: Vec3 | null;
  readonly length: number;
}

export function trunkFrame(context: MatchContext, legs: Limb, arms: Limb): TrunkFrame {
  const [legCentre, armCentre] = [middleOf(context, legs.upper), middleOf(context, arms.upper)];
  const along = subtract(armCentre, legCentre);
  return { legs, arms, legCentre, armCentre, axis: normalise(along), length: lengthOf(along) };
}
