import { conjugate, fromAxisAngle, IDENTITY, multiply, rotate, twistAngle } from '../math/quat';
import { add, lerp, subtract, ZERO, type Vec3 } from '../math/vec3';
import { MotionCarrier, type CarriedFrames } from '../motion/carry-frames';
import type { CarryPlan } from '../motion/carry-plan';
import { layerShare, type Layer } from '../motion/layer';
import { WorldEdit } from '../motion/world-edit';
import { leadLimb } from './limb-writer';
import type { Limb } from './limbs';

const UP: Vec3 = [0, 1, 0];

/**
 * Leads hands and feet to the places of their layers; null where no layer does. The last layer of a part counts where
 * several work at once.
 */
export function leadLimbs(
  plan: CarryPlan,
  limbs: readonly Limb[],
  layers: readonly Layer[],
): ((frames: CarriedFrames) => void) | null {
  const led = layers.flatMap((layer) => {
    const limb = layer.kind === 'target' ? limbs.find(({ part }) => part === layer.part) : undefined;
    return layer.kind === 'target' && limb ? [{ layer, limb }] : [];
  });
  if (led.length === 0) return null;
  const edit = new WorldEdit(plan, new MotionCarrier(plan).placedBones);
  return (frames) => {
    for (let frame = 0; frame < frames.count; frame++)
      for (const { layer, limb } of led) {
        const share = layerShare(layer, (frames.from + frame) / plan.motion.framesPerSecond);
        if (share === 0) continue;
        edit.begin(frames, frame);
        const place = layer.in === 'world' ? layer.place : fromFigure(plan, edit, layer.place);
        const wanted = lerp(edit.placeOf(limb.end), place, share);
        leadLimb(edit, plan, limb, { wanted, moved: ZERO, endTurn: IDENTITY });
        edit.commit();
      }
  };
}

/** A place that goes along: from the floor below the hips, turned with their heading. */
function fromFigure(plan: CarryPlan, edit: WorldEdit, place: Vec3): Vec3 {
  const { origin, turn } = figureFrame(plan, edit);
  return add(origin, rotate(turn, place));
}

/** The other way round: where a place of the world is in the figure of a frame that was begun. */
export function toFigure(plan: CarryPlan, edit: WorldEdit, place: Vec3): Vec3 {
  const { origin, turn } = figureFrame(plan, edit);
  return rotate(conjugate(turn), subtract(place, origin));
}

function figureFrame(plan: CarryPlan, edit: WorldEdit) {
  const [x, , z] = edit.placeOf(plan.hips);
  const change = multiply(edit.turnOf(plan.hips), conjugate(plan.standing.rotations[plan.hips]));
  return { origin: [x, 0, z] as Vec3, turn: fromAxisAngle(UP, twistAngle(change, UP)) };
}
