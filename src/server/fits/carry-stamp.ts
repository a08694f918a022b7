import { createHash } from 'node:crypto';
import type { FitState } from '@/core/fit/fit';

/** What of a fit a carried motion is made from: names, notes and what goes into the pack do not count. */
export function carryStampOf(state: FitState): string {
  const { definitionId, definitionVersion, basis, intake, assignments, spareKinds, posture, layers, carrying } = state;
  const { rotations, shift } = posture;
  // The capsule is drawn, and changes no clip.
  const { capsule: _capsule, ...carried } = carrying;
  const bones = Object.entries(assignments).map(([role, { boneIndex }]) => `${role} ${boneIndex}`);
  const used = {
    definitionId,
    definitionVersion,
    basis,
    intake,
    bones,
    spareKinds,
    rotations,
    shift,
    layers,
    carrying: carried,
  };
  return createHash('sha256').update(JSON.stringify(used)).digest('hex');
}

/** Whether a motion can be carried to a fit at all. */
export const canCarry = ({ assignments }: Pick<FitState, 'assignments'>): boolean => assignments.hips !== undefined;
