import { conjugate, multiply, rotate, type Quat } from '../math/quat';
import { add, type Vec3 } from '../math/vec3';
import type { CarryPlan } from '../motion/carry-plan';
import type { WorldEdit } from '../motion/world-edit';
import type { Limb } from './limbs';
import { reachFor } from './two-bone';

/** Where a limb is to go in a frame. */
export interface LimbGoal {
  /** Of its end's joint, body frame, metres. */
  readonly wanted: Vec3;
  /** How far its top is moved from where the frame has it. */
  readonly moved: Vec3;
  /** World turn on top of the end's own, which it keeps otherwise. */
  readonly endTurn: Quat;
}

/** Turns a limb so that its end comes to a place, in a frame that was begun; the end keeps its own turn. */
export function leadLimb(edit: WorldEdit, plan: CarryPlan, limb: Limb, { wanted, moved, endTurn }: LimbGoal): void {
  const [top, middle, end] = [limb.upper, limb.lower, limb.end].map((bone) => add(edit.placeOf(bone), moved));
  const change = multiply(edit.turnOf(limb.upper), conjugate(plan.standing.rotations[limb.upper]));
  const { upper, lower } = reachFor({ top, middle, end }, wanted, rotate(change, limb.hinge));
  edit.setTurn(limb.upper, multiply(upper, edit.turnOf(limb.upper)));
  edit.setTurn(limb.lower, multiply(lower, edit.turnOf(limb.lower)));
  edit.setTurn(limb.end, multiply(endTurn, edit.turnOf(limb.end)));
}
