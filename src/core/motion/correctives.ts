import { conjugate, multiply, twistAngle, type Quat } from '../math/quat';
import type { Vec3 } from '../math/vec3';
import { computeRoleFrame } from '../posture/role-frames';
import { turnAxisOf } from '../posture/turn-roles';
import { computeWorlds } from '../rig/pose';
import type { Corrective } from './carry-options';
import type { FittedRig } from './fitted-rig';
import type { Motion } from './motion';

/** A corrective as it is worked out for every frame. */
export interface PlannedCorrective {
  /** Place of its bone among the driven ones. */
  readonly driven: number;
  /** Unit axis in the body frame of the reference posture. */
  readonly axis: Vec3;
  readonly fromRad: number;
  readonly toRad: number;
  readonly weight: number;
  /** Place of its morph target in `morphs`. */
  readonly morph: number;
}

/** Morph targets that a carried motion moves: what the motion tells by name, and what follows joints. */
export interface MorphPlan {
  readonly morphs: readonly string[];
  /** [frameCount] of each, or null where only joints move it. */
  readonly told: readonly (Float32Array | null)[];
  readonly correctives: readonly PlannedCorrective[];
}

/**
 * Lays out a character's correctives. Those whose role has no bone, or whose axis cannot be told, do nothing.
 * @param drivenOf place of a bone among the driven ones.
 */
export function planMorphs(
  target: FittedRig,
  motion: Motion,
  table: readonly Corrective[],
  drivenOf: ReadonlyMap<number, number>,
): MorphPlan {
  const on = table.filter(({ isOn }) => isOn);
  const morphs = [...new Set([...motion.morphs.map(({ name }) => name), ...on.map(({ morph }) => morph)])];
  const worlds = on.length > 0 ? computeWorlds(target.rig, target.pose) : [];
  const correctives = on.flatMap(({ role, about, fromDeg, toDeg, morph, weight }): PlannedCorrective[] => {
    const bone = target.roleBones.get(role);
    const driven = bone === undefined ? undefined : drivenOf.get(bone);
    const axis =
      bone === undefined
        ? null
        : turnAxisOf(target.definition, role, about, computeRoleFrame({ ...target, worlds }, role));
    if (driven === undefined || !axis || fromDeg === toDeg) return [];
    const rad = Math.PI / 180;
    return [{ driven, axis, fromRad: fromDeg * rad, toRad: toDeg * rad, weight, morph: morphs.indexOf(morph) }];
  });
  const told = morphs.map((name) => motion.morphs.find((morph) => morph.name === name)?.weights ?? null);
  return { morphs, told, correctives };
}

/**
 * Weight that a turn of a joint calls for: none before `from`, whole from `to` on, straight between.
 * @param turn of the bone against what it hangs on, from the reference posture, body frame.
 */
export const correctiveWeight = (turn: Quat, { axis, fromRad, toRad, weight }: PlannedCorrective): number =>
  weight * Math.max(0, Math.min(1, (twistAngle(turn, axis) - fromRad) / (toRad - fromRad)));

/** before^-1 * local * after^-1: a driven bone's turn against what it hangs on, from its local rotation. */
export const turnOfLocal = (before: Quat, local: Quat, after: Quat): Quat =>
  multiply(multiply(conjugate(before), local), conjugate(after));
