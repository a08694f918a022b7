import type { Definition } from '../definition/definition';
import type { Match } from '../match/context/match-types';
import type { Rig } from '../rig/rig';
import { pathsOf } from '../rig/local-pose';
import { carryKeys, carryPosture } from './carry';
import { initialFit, type Assignment, type Basis, type FitState } from './fit';

/** A rig with its match, as one reader and matcher saw it. */
export interface SeenRig {
  readonly rig: Rig;
  readonly match: Match;
}

/** What a newer reader or matcher would change in one role. Names are the bones' own. */
export interface RoleChange {
  readonly role: string;
  readonly from: string | null;
  readonly to: string | null;
  /** proposed: another bone, or none, is proposed now. doubt: how sure it is. lost: a person settled it, and the bone is gone. */
  readonly kind: 'proposed' | 'doubt' | 'lost';
}

export interface Renewal {
  readonly state: FitState;
  readonly changes: readonly RoleChange[];
}

/**
 * A fit carried over to what a newer reader and matcher see in the same files under the same decisions. What a person
 * settled, cleared or left vacant stays; what was only proposed is proposed anew. Bones are the same where their path
 * of names from the top is, and occurs once.
 */
export function renewFit(state: FitState, from: SeenRig, to: SeenRig, definition: Definition, basis: Basis): Renewal {
  const carried = carryBones(from.rig, to.rig);
  const isDecided = ({ origin, state: how }: Assignment) => origin === 'person' || how === 'settled';
  const kept: Record<string, Assignment> = {};
  const lost: RoleChange[] = [];
  for (const [role, assignment] of Object.entries(state.assignments)) {
    if (!isDecided(assignment)) continue;
    const bone = carried.get(assignment.boneIndex);
    if (bone === undefined) lost.push({ role, from: nameIn(from, assignment.boneIndex), to: null, kind: 'lost' });
    else kept[role] = { ...assignment, boneIndex: bone };
  }
  const taken = new Set(Object.values(kept).map(({ boneIndex }) => boneIndex));
  const wasCleared = (role: string) => !(role in state.assignments) && role in from.match.assignments;
  const fresh = Object.entries(initialFit(to.match, definition).assignments).filter(
    ([role, { boneIndex }]) =>
      !(role in kept) && !taken.has(boneIndex) && !wasCleared(role) && !state.leftVacant.includes(role),
  );
  const assignments = { ...Object.fromEntries(fresh), ...kept };
  return {
    state: {
      ...state,
      basis,
      assignments,
      spareKinds: carryKeys(state.spareKinds, carried),
      posture: carryPosture(state.posture, carried),
    },
    changes: [...lost, ...proposalChanges(state, assignments, from, to, carried)],
  };
}

function proposalChanges(
  { assignments: before }: FitState,
  after: FitState['assignments'],
  from: SeenRig,
  to: SeenRig,
  carried: ReadonlyMap<number, number>,
): RoleChange[] {
  const changes: RoleChange[] = [];
  for (const role of new Set([...Object.keys(before), ...Object.keys(after)])) {
    const [was, is] = [before[role], after[role]];
    if (was && (was.origin === 'person' || was.state === 'settled')) continue;
    const names = { from: was ? nameIn(from, was.boneIndex) : null, to: is ? nameIn(to, is.boneIndex) : null };
    // A bone that is gone and no bone at all are two things.
    const expected = was ? (carried.get(was.boneIndex) ?? null) : undefined;
    if (expected !== is?.boneIndex) changes.push({ role, ...names, kind: 'proposed' });
    else if (was && is && was.state !== is.state) changes.push({ role, ...names, kind: 'doubt' });
  }
  return changes;
}

const nameIn = ({ rig }: SeenRig, bone: number): string => rig.bones[bone]?.name ?? String(bone);

/** Bone of the old rig -> the bone of the new one with the same path of names; the same index where rigs are alike. */
function carryBones(from: Rig, to: Rig): Map<number, number> {
  const places = new Map<string, number[]>();
  pathsOf(to).forEach((path, bone) => places.set(path, [...(places.get(path) ?? []), bone]));
  const carried = new Map<number, number>();
  pathsOf(from).forEach((path, bone) => {
    const found = places.get(path) ?? [];
    const same = found.length === 1 ? found[0] : found.find((candidate) => candidate === bone);
    if (same !== undefined) carried.set(bone, same);
  });
  return carried;
}
