import { conjugate, fromAxisAngle, IDENTITY, multiply, rotate, slerp, twistAngle, type Quat } from '../math/quat';
import { add, lerp, subtract, ZERO, type Vec3 } from '../math/vec3';
import { MotionCarrier, type CarriedFrames } from '../motion/carry-frames';
import type { CarryPlan } from '../motion/carry-plan';
import { layerShare, type Layer, type LayerOf } from '../motion/layer';
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
        const endTurn = layer.holdsTurn ? slerp(IDENTITY, turnTo(plan, edit, layer, limb), share) : IDENTITY;
        leadLimb(edit, plan, limb, { wanted, moved: ZERO, endTurn });
        edit.commit();
      }
  };
}

/** From the turn that the end of a limb has in the frame to the one that its layer holds it in. */
function turnTo(plan: CarryPlan, edit: WorldEdit, { turn = IDENTITY, ...layer }: LayerOf<'target'>, limb: Limb): Quat {
  const held = layer.in === 'world' ? turn : multiply(figureFrame(plan, edit).turn, turn);
  return multiply(multiply(held, plan.standing.rotations[limb.end]), conjugate(edit.turnOf(limb.end)));
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

/** How the figure of a frame that was begun is turned, about the vertical: the heading of its hips. */
export const figureTurn = (plan: CarryPlan, edit: WorldEdit): Quat => figureFrame(plan, edit).turn;

function figureFrame(plan: CarryPlan, edit: WorldEdit) {
  const [x, , z] = edit.placeOf(plan.hips);
  const change = multiply(edit.turnOf(plan.hips), conjugate(plan.standing.rotations[plan.hips]));
  return { origin: [x, 0, z] as Vec3, turn: fromAxisAngle(UP, twistAngle(change, UP)) };
}
