import { z } from 'zod';
import type { Definition } from '../definition/definition';
import type { Match } from '../match/match-types';
import type { Normalisation } from '../normalise/normalise';
import { alignPosture } from '../posture/align-posture';
import type { Rig } from '../rig/rig';
import { initialFit, roleBonesOf, type Assignment, type FitState } from './fit';

/** What a person can do to a fit. Each is one step of the history. */
export const FitActionSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('assign'), role: z.string(), boneIndex: z.int().nonnegative() }),
  z.strictObject({ kind: z.literal('clear'), role: z.string() }),
  z.strictObject({ kind: z.literal('settle'), roles: z.array(z.string()).min(1) }),
  z.strictObject({ kind: z.literal('settle-above'), confidence: z.number().min(0).max(1) }),
  z.strictObject({ kind: z.literal('swap-sides') }),
  z.strictObject({ kind: z.literal('rematch') }),
  z.strictObject({ kind: z.literal('align-posture'), roles: z.array(z.string()).optional() }),
  z.strictObject({ kind: z.literal('reset-posture') }),
]);
export type FitAction = z.infer<typeof FitActionSchema>;

export interface FitSubject {
  readonly rig: Rig;
  readonly match: Match;
  readonly definition: Definition;
  readonly normalisation: Normalisation;
}

export type ActionOutcome =
  | { readonly ok: true; readonly state: FitState }
  | { readonly ok: false; readonly code: 'unknown-role' | 'unknown-bone' | 'nothing-to-do'; readonly message: string };

/** The fit after an action; the given state is never changed. */
export function applyAction(state: FitState, action: FitAction, subject: FitSubject): ActionOutcome {
  switch (action.kind) {
    case 'assign':
      return assign(state, action.role, action.boneIndex, subject);
    case 'clear': {
      if (!(action.role in state.assignments)) return nothing(`${action.role} has no bone.`);
      const { [action.role]: _removed, ...assignments } = state.assignments;
      return done(state, { assignments });
    }
    case 'settle':
      return settle(state, (role) => action.roles.includes(role));
    case 'settle-above':
      return settle(state, (role, assignment) => assignment.origin === 'match' && isStillProposed(role, assignment, subject.match, action.confidence));
    case 'swap-sides':
      return swapSides(state);
    case 'rematch':
      return done(state, { assignments: initialFit(subject.match, subject.definition).assignments });
    case 'align-posture': {
      const input = { ...subject, roleBones: roleBonesOf(state) };
      return done(state, { posture: alignPosture(input, state.posture, action.roles && new Set(action.roles)) });
    }
    case 'reset-posture':
      return done(state, { posture: { rotations: {}, shift: null } });
    default:
      return action satisfies never;
  }
}

const done = (state: FitState, change: Partial<FitState>): ActionOutcome => ({ ok: true, state: { ...state, ...change } });
const nothing = (message: string): ActionOutcome => ({ ok: false, code: 'nothing-to-do', message });

/** One bone has one role: giving it another moves it. */
function assign(state: FitState, role: string, boneIndex: number, { rig, definition }: FitSubject): ActionOutcome {
  if (!definition.roles.some((candidate) => candidate.id === role)) return { ok: false, code: 'unknown-role', message: `${definition.label} has no role "${role}".` };
  if (boneIndex >= rig.bones.length) return { ok: false, code: 'unknown-bone', message: `There is no bone ${boneIndex}; the rig has ${rig.bones.length}.` };
  const kept = Object.entries(state.assignments).filter(([other, assignment]) => other !== role && assignment.boneIndex !== boneIndex);
  return done(state, { assignments: { ...Object.fromEntries(kept), [role]: { boneIndex, state: 'settled', origin: 'person' } } });
}

function settle(state: FitState, isMeant: (role: string, assignment: Assignment) => boolean): ActionOutcome {
  const chosen = Object.entries(state.assignments).filter(([role, assignment]) => assignment.state !== 'settled' && isMeant(role, assignment));
  if (chosen.length === 0) return nothing('There is nothing left to settle.');
  const settled = Object.fromEntries(chosen.map(([role, assignment]) => [role, { ...assignment, state: 'settled' as const }]));
  return done(state, { assignments: { ...state.assignments, ...settled } });
}

function isStillProposed(role: string, assignment: Assignment, match: Match, confidence: number): boolean {
  const proposal = match.assignments[role];
  return proposal?.boneIndex === assignment.boneIndex && proposal.confidence >= confidence;
}

/** Left becomes right throughout: for rigs whose sides were told wrongly. */
function swapSides(state: FitState): ActionOutcome {
  const swapped = Object.entries(state.assignments).map(([role, assignment]) => {
    const other = role.startsWith('left') ? `right${role.slice(4)}` : role.startsWith('right') ? `left${role.slice(5)}` : role;
    return [other, assignment] as const;
  });
  return done(state, { assignments: Object.fromEntries(swapped) });
}

/** What an action did, for the history a person reads. */
export function describeAction(action: FitAction, definition: Definition, rig: Rig): string {
  const label = (role: string) => definition.roles.find((candidate) => candidate.id === role)?.label ?? role;
  switch (action.kind) {
    case 'assign':
      return `${label(action.role)} is ${rig.bones[action.boneIndex]?.name ?? action.boneIndex}`;
    case 'clear':
      return `${label(action.role)} cleared`;
    case 'settle':
      return action.roles.length === 1 ? `${label(action.roles[0])} settled` : `${action.roles.length} roles settled`;
    case 'settle-above':
      return `proposals above ${Math.round(action.confidence * 100)} % settled`;
    case 'swap-sides':
      return 'left and right exchanged';
    case 'rematch':
      return 'back to the first pass';
    case 'align-posture':
      return action.roles ? `${action.roles.length} roles aligned` : 'posture aligned';
    case 'reset-posture':
      return 'posture reset';
    default:
      return action satisfies never;
  }
}
