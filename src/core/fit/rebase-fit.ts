import type { Definition } from '../definition/definition';
import { isSameReading, NO_NODE, type IntakeDecisions } from '../intake/decisions';
import type { Match } from '../match/context/match-types';
import { FILE_REST } from '../posture/posture';
import type { Rig } from '../rig/rig';
import { carryKeys, carryPosture } from './carry';
import { initialFit, type Assignment, type FitState } from './fit';

/** A rig as read under some decisions. */
export interface ReadRig {
  readonly rig: Rig;
  readonly match: Match;
  /** Per node of its file: the node's index before any decision, or that of the joint that a repair made; null where nothing moved. */
  readonly origins: readonly number[] | null;
}

/**
 * The fit carried over to the rig that other intake decisions lead to. What a person put or settled stays with its bone
 * as long as that bone is there; everything else is proposed anew, since places and trees may have changed. A posture
 * is kept only while the pose it starts from is.
 */
export function rebaseFit(
  state: FitState,
  from: ReadRig,
  to: ReadRig,
  definition: Definition,
  intake: IntakeDecisions,
): FitState {
  if (isSameReading(intake, state.intake)) return { ...state, intake };
  const carried = carryBones(from, to);
  const kept: Record<string, Assignment> = {};
  for (const [role, assignment] of Object.entries(state.assignments)) {
    const bone = carried.get(assignment.boneIndex);
    const isDecided = assignment.origin === 'person' || assignment.state === 'settled';
    if (isDecided && bone !== undefined) kept[role] = { ...assignment, boneIndex: bone };
  }
  const taken = new Set(Object.values(kept).map((assignment) => assignment.boneIndex));
  const wasCleared = (role: string) => !(role in state.assignments) && role in from.match.assignments;
  const fresh = Object.entries(initialFit(to.match, definition).assignments).filter(
    ([role, { boneIndex }]) =>
      !(role in kept) && !taken.has(boneIndex) && !wasCleared(role) && !state.leftVacant.includes(role),
  );
  const spareKinds = carryKeys(state.spareKinds, carried);
  const samePose = JSON.stringify(intake.pose) === JSON.stringify(state.intake.pose);
  return {
    ...state,
    intake,
    assignments: { ...Object.fromEntries(fresh), ...kept },
    spareKinds,
    posture: samePose ? carryPosture(state.posture, carried) : FILE_REST,
  };
}

/** Bone of the old rig -> the same bone of the new one. */
function carryBones(from: ReadRig, to: ReadRig): Map<number, number> {
  const origin = ({ origins }: ReadRig, node: number) => (origins ? (origins[node] ?? NO_NODE) : node);
  const byOrigin = new Map(to.rig.bones.map((bone) => [origin(to, bone.nodeIndex), bone.index]));
  const carried = new Map<number, number>();
  for (const bone of from.rig.bones) {
    const at = origin(from, bone.nodeIndex);
    const now = at !== NO_NODE ? byOrigin.get(at) : undefined;
    if (now !== undefined) carried.set(bone.index, now);
  }
  return carried;
}
