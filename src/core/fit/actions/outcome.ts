import type { Rig } from '../../rig/rig';
import type { Assignment, FitState } from '../fit';
import type { ActionOutcome } from './action';

/** What holds whatever was done: a role with a bone is not left vacant, a bone with a role is no spare. */
export function done(state: FitState, change: Partial<FitState>): ActionOutcome {
  const next = { ...state, ...change };
  const mapped = new Set(Object.values(next.assignments).map(({ boneIndex }) => String(boneIndex)));
  const leftVacant = next.leftVacant.filter((role) => !(role in next.assignments));
  const spareKinds = Object.fromEntries(Object.entries(next.spareKinds).filter(([bone]) => !mapped.has(bone)));
  return { ok: true, state: { ...next, leftVacant, spareKinds } };
}

export const CLOSED: ActionOutcome & { ok: false } = {
  ok: false,
  code: 'closed',
  message: 'The fit is closed. Reopen it, with a reason, to change it.',
};

export const nothing = (message: string): ActionOutcome => ({ ok: false, code: 'nothing-to-do', message });

/** The refusal of a bone that the rig does not have, or null where it has it. */
export const unknownBone = (bone: number, { bones }: Rig): ActionOutcome | null =>
  bone < bones.length
    ? null
    : { ok: false, code: 'unknown-bone', message: `There is no bone ${bone}; the rig has ${bones.length}.` };

export const without = ({ assignments }: FitState, role: string): FitState['assignments'] =>
  Object.fromEntries(Object.entries(assignments).filter(([other]) => other !== role));

/** A bone as a person gave it to a role. */
export const byPerson = (boneIndex: number): Assignment => ({ boneIndex, state: 'settled', origin: 'person' });

/** Roles with the bones a person gave them; whatever held one of these bones before loses it. */
export function putBones(state: FitState, bones: ReadonlyMap<string, number>): FitState['assignments'] {
  const taken = new Set(bones.values());
  const kept = Object.entries(state.assignments).filter(
    ([role, { boneIndex }]) => !bones.has(role) && !taken.has(boneIndex),
  );
  return {
    ...Object.fromEntries(kept),
    ...Object.fromEntries([...bones].map(([role, boneIndex]) => [role, byPerson(boneIndex)])),
  };
}

/** Takes the bones from the roles that are meant. */
export function clearWhere(state: FitState, isMeant: (role: string) => boolean): ActionOutcome {
  const kept = Object.entries(state.assignments).filter(([role]) => !isMeant(role));
  if (kept.length === Object.keys(state.assignments).length) return nothing('There is nothing to clear.');
  return done(state, { assignments: Object.fromEntries(kept) });
}

/** Settles the roles that are meant and not settled yet. */
export function settleWhere(
  state: FitState,
  isMeant: (role: string, assignment: Assignment) => boolean,
): ActionOutcome {
  const chosen = Object.entries(state.assignments).filter(
    ([role, assignment]) => assignment.state !== 'settled' && isMeant(role, assignment),
  );
  if (chosen.length === 0) return nothing('There is nothing left to settle.');
  const settled = Object.fromEntries(
    chosen.map(([role, assignment]) => [role, { ...assignment, state: 'settled' as const }]),
  );
  return done(state, { assignments: { ...state.assignments, ...settled } });
}
