import { boneRolesOf } from '../fit/fit';
import { axisVector } from '../frame/normalise';
import { cross } from '../math/vec3';
import type { PlanInput } from './handoff-plan';

export interface StrayBone {
  readonly bone: number;
  readonly side: 'left' | 'right';
  /** Vertices that it moves beyond the middle, on the other side. */
  readonly count: number;
}

/** More than this of what a bone moves on the other side means that the sides are read wrongly, not its weights. */
const MOST_SHARE = 0.5;

/** File axis that points to the body's left, and its sign. Left is up x facing. */
export function leftAxis({ normalisation }: Pick<PlanInput, 'normalisation'>): {
  readonly axis: number;
  readonly sign: number;
} {
  const left = cross(axisVector(normalisation.up), axisVector(normalisation.facing));
  const axis = left.findIndex((value) => Math.abs(value) > 0.5);
  return { axis, sign: Math.sign(left[axis]) };
}

/** Side of each bone: of its role, else of the nearest mapped bone above; null for what belongs to the middle. */
export function sidesOfBones({ rig, fit }: Pick<PlanInput, 'rig' | 'fit'>): ('left' | 'right' | null)[] {
  const roles = boneRolesOf(fit);
  const sides: ('left' | 'right' | null)[] = [];
  for (const { index, parent } of rig.bones) {
    const role = roles.get(index);
    if (role) sides[index] = role.startsWith('left') ? 'left' : role.startsWith('right') ? 'right' : null;
    else sides[index] = parent >= 0 ? sides[parent] : null;
  }
  return sides;
}

/** Bones of one side that move vertices on the other, away from the middle. */
export function strayBones(input: Pick<PlanInput, 'rig' | 'fit' | 'normalisation'>): StrayBone[] {
  const { axis, sign } = leftAxis(input);
  const sides = sidesOfBones(input);
  const counts = input.rig.facts?.sides ?? [];
  return input.rig.bones.flatMap(({ index, skinVertexCount }): StrayBone[] => {
    const side = sides[index];
    const own = counts[index]?.[axis];
    if (!side || !own) return [];
    const [toLeft, toRight] = sign > 0 ? [own[1], own[0]] : [own[0], own[1]];
    const count = side === 'left' ? toRight : toLeft;
    return count > 0 && count < skinVertexCount * MOST_SHARE ? [{ bone: index, side, count }] : [];
  });
}
