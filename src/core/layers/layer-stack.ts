import { conjugate, fromAxisAngle, IDENTITY, multiply, normalise, rotate, slerp, type Quat } from '../math/quat';
import { keepSign, quatAt } from '../math/quat-arrays';
import { add, subtract, type Vec3 } from '../math/vec3';
import { MotionCarrier, type CarriedFrames } from '../motion/carry-frames';
import type { CarryPlan } from '../motion/carry-plan';
import { layerShare, type Layer, type LayerOf } from '../motion/layer';
import { WorldEdit } from '../motion/world-edit';

type Adjust = (frames: CarriedFrames) => void;

/** Turn of a role between its keys: before the first and after the last as they are, eased in between. */
export function turnAt(keys: LayerOf<'turn'>['keys'], seconds: number): Quat {
  const sorted = [...keys].sort((a, b) => a.at - b.at);
  const after = sorted.findIndex(({ at }) => at >= seconds);
  if (after <= 0) return (after === 0 ? sorted[0] : sorted[sorted.length - 1]).turn;
  const [from, to] = [sorted[after - 1], sorted[after]];
  const share = (seconds - from.at) / Math.max(1e-9, to.at - from.at);
  return slerp(from.turn, to.turn, share * share * (3 - 2 * share));
}

/**
 * Turns and held poses, in the order of the list; null where there are none. They work on the local transforms of carried
 * frames, so that without them these are what they were, to the bit.
 * @param layers those that are on and lie on the motion.
 */
export function stackTurns(plan: CarryPlan, layers: readonly Layer[]): Adjust | null {
  const steps = layers.flatMap((layer): Adjust[] => {
    if (layer.kind === 'turn') return turnStep(plan, layer);
    return layer.kind === 'held' ? heldSteps(plan, layer) : [];
  });
  if (steps.length === 0) return null;
  return (frames) => {
    for (const step of steps) step(frames);
  };
}

/** Height and heading of the whole figure, feet and all; null where no layer asks for it. */
export function placeFigure(plan: CarryPlan, layers: readonly Layer[]): Adjust | null {
  const figures = layers.filter((layer) => layer.kind === 'figure');
  return figures.length > 0 ? figureStep(plan, figures) : null;
}

/** Place of a role's bone among those that are driven; -1 where it is not. */
function drivenOf({ target, driven }: CarryPlan, role: string): number {
  const bone = target.roleBones.get(role);
  return bone === undefined ? -1 : driven.findIndex(({ boneIndex }) => boneIndex === bone);
}

function turnStep(plan: CarryPlan, layer: LayerOf<'turn'>): Adjust[] {
  const at = drivenOf(plan, layer.role);
  if (at < 0) return [];
  const reference = plan.standing.rotations[plan.driven[at].boneIndex];
  return [
    eachLocal(plan, at, (local, seconds) => {
      const turn = slerp(IDENTITY, turnAt(layer.keys, seconds), layerShare(layer, seconds));
      return multiply(local, multiply(conjugate(reference), multiply(turn, reference)));
    }),
  ];
}

function heldSteps(plan: CarryPlan, layer: LayerOf<'held'>): Adjust[] {
  return Object.entries(layer.turns).flatMap(([role, turn]) => {
    const at = drivenOf(plan, role);
    if (at < 0) return [];
    const bone = plan.driven[at].boneIndex;
    const held = multiply(conjugate(plan.spaces[bone].rotation), multiply(turn, plan.standing.rotations[bone]));
    return [eachLocal(plan, at, (local, seconds) => slerp(local, held, layerShare(layer, seconds)))];
  });
}

/** R of a role as it stands in a frame: what a held pose keeps. */
export const heldTurn = (
  { spaces, standing }: Pick<CarryPlan, 'spaces' | 'standing'>,
  bone: number,
  local: Quat,
): Quat => normalise(multiply(spaces[bone].rotation, multiply(local, conjugate(standing.rotations[bone]))));

/** Changes one driven bone's local turn in every frame; what a rig hangs elsewhere goes along. */
function eachLocal(plan: CarryPlan, at: number, change: (local: Quat, seconds: number) => Quat): Adjust {
  const row = plan.driven.length * 4;
  const bone = plan.driven[at].boneIndex;
  const edit = plan.loose.size > 0 ? new WorldEdit(plan, new MotionCarrier(plan).placedBones) : null;
  return (frames) => {
    const { from, count, rotations } = frames;
    for (let frame = 0; frame < count; frame++) {
      const start = frame * row + at * 4;
      const local = quatAt(rotations, start);
      const next = normalise(change(local, (from + frame) / plan.motion.framesPerSecond));
      if (edit) {
        edit.begin(frames, frame);
        edit.setTurn(bone, multiply(multiply(edit.turnOf(bone), conjugate(local)), next));
        edit.commit();
        continue;
      }
      rotations.set(next, start);
      if (frame > 0) keepSign(rotations, start, start - row);
    }
  };
}

/** Lifts and turns the whole figure: by its root where that travels, by its hips otherwise. */
function figureStep(plan: CarryPlan, layers: readonly LayerOf<'figure'>[]): Adjust {
  const { motion, hips, root, target, hipsAt } = plan;
  const { placedBones } = new MotionCarrier(plan);
  const edit = new WorldEdit(plan, placedBones);
  const top = root && target.rootBone !== null && placedBones.includes(target.rootBone) ? target.rootBone : hips;
  const pivot: Vec3 = [hipsAt[0], 0, hipsAt[2]];
  const moved = (seconds: number): { readonly up: number; readonly turn: Quat } => {
    let [up, heading] = [0, 0];
    for (const layer of layers) {
      const share = layerShare(layer, seconds);
      up += layer.heightMetres * share;
      heading += layer.headingDeg * share;
    }
    return { up, turn: fromAxisAngle([0, 1, 0], (heading * Math.PI) / 180) };
  };
  const placed = (place: Vec3, up: number, turn: Quat): Vec3 =>
    add(add(pivot, rotate(turn, subtract(place, pivot))), [0, up, 0]);
  return (frames) => {
    const { from, count, addedRoot } = frames;
    for (let frame = 0; frame < count; frame++) {
      const { up, turn } = moved((from + frame) / motion.framesPerSecond);
      if (addedRoot.length > 0) {
        const at = frame * 7;
        addedRoot.set(placed([addedRoot[at], addedRoot[at + 1], addedRoot[at + 2]], up, turn), at);
        const now = quatAt(addedRoot, at + 3);
        addedRoot.set(multiply(turn, now), at + 3);
        continue;
      }
      edit.begin(frames, frame);
      edit.setPlace(top, placed(edit.placeOf(top), up, turn));
      edit.setTurn(top, multiply(turn, edit.turnOf(top)));
      edit.commit();
    }
  };
}
