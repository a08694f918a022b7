import { z } from 'zod';
import { mirrorRole, type Definition } from '../definition/definition';
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
  z.strictObject({ kind: z.literal('swap'), roles: z.tuple([z.string(), z.string()]) }),
  z.strictObject({ kind: z.literal('clear-line'), line: z.string() }),
  z.strictObject({ kind: z.literal('clear-all') }),
  /** Puts onto the other side what stands on this one, by the mirror partners of its bones. */
  z.strictObject({ kind: z.literal('mirror'), from: z.enum(['left', 'right']) }),
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
    case 'swap':
      return swap(state, action.roles, subject);
    case 'clear-line':
      return clearWhere(state, (role) => subject.definition.roles.find((candidate) => candidate.id === role)?.line === action.line);
    case 'clear-all':
      return clearWhere(state, () => true);
    case 'mirror':
      return mirror(state, action.from, subject);
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
const hasRole = (definition: Definition, role: string): boolean => definition.roles.some((candidate) => candidate.id === role);
const unknownRole = (definition: Definition, role: string): ActionOutcome => ({ ok: false, code: 'unknown-role', message: `${definition.label} has no role "${role}".` });
const nothing = (message: string): ActionOutcome => ({ ok: false, code: 'nothing-to-do', message });

/** One bone has one role: giving it another moves it. */
function assign(state: FitState, role: string, boneIndex: number, { rig, definition }: FitSubject): ActionOutcome {
  if (!hasRole(definition, role)) return unknownRole(definition, role);
  if (boneIndex >= rig.bones.length) return { ok: false, code: 'unknown-bone', message: `There is no bone ${boneIndex}; the rig has ${rig.bones.length}.` };
  const kept = Object.entries(state.assignments).filter(([other, assignment]) => other !== role && assignment.boneIndex !== boneIndex);
  return done(state, { assignments: { ...Object.fromEntries(kept), [role]: { boneIndex, state: 'settled', origin: 'person' } } });
}

/** Two roles exchange their bones; either may be vacant, not both. */
function swap(state: FitState, [a, b]: readonly [string, string], { definition }: FitSubject): ActionOutcome {
  for (const role of [a, b]) if (!hasRole(definition, role)) return unknownRole(definition, role);
  const { [a]: ofA, [b]: ofB, ...others } = state.assignments;
  if (a === b || (!ofA && !ofB)) return nothing('There is nothing to exchange.');
  const put = (role: string, assignment: Assignment | undefined) => (assignment ? { [role]: { boneIndex: assignment.boneIndex, state: 'settled' as const, origin: 'person' as const } } : {});
  return done(state, { assignments: { ...others, ...put(a, ofB), ...put(b, ofA) } });
}

function clearWhere(state: FitState, isMeant: (role: string) => boolean): ActionOutcome {
  const kept = Object.entries(state.assignments).filter(([role]) => !isMeant(role));
  if (kept.length === Object.keys(state.assignments).length) return nothing('There is nothing to clear.');
  return done(state, { assignments: Object.fromEntries(kept) });
}

function mirror(state: FitState, from: 'left' | 'right', { match }: FitSubject): ActionOutcome {
  const put = new Map<string, Assignment>();
  for (const [role, { boneIndex }] of Object.entries(state.assignments)) {
    const partner = role.startsWith(from) ? (match.partners[boneIndex] ?? -1) : -1;
    if (partner >= 0 && partner !== boneIndex) put.set(mirrorRole(role), { boneIndex: partner, state: 'settled', origin: 'person' });
  }
  const changed = [...put].filter(([role, { boneIndex }]) => state.assignments[role]?.boneIndex !== boneIndex);
  if (changed.length === 0) return nothing(put.size === 0 ? `Nothing on the ${from} side has a mirror image.` : 'The other side is so already.');
  const taken = new Set(changed.map(([, { boneIndex }]) => boneIndex));
  const kept = Object.entries(state.assignments).filter(([role, { boneIndex }]) => !taken.has(boneIndex) || put.get(role)?.boneIndex === boneIndex);
  return done(state, { assignments: { ...Object.fromEntries(kept), ...Object.fromEntries(changed) } });
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
  return done(state, { assignments: Object.fromEntries(Object.entries(state.assignments).map(([role, assignment]) => [mirrorRole(role), assignment])) });
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
    case 'swap':
      return `${label(action.roles[0])} and ${label(action.roles[1])} exchanged`;
    case 'clear-line':
      return `${definition.lines.find((line) => line.id === action.line)?.label ?? action.line} cleared`;
    case 'clear-all':
      return 'all roles cleared';
    case 'mirror':
      return `${action.from} side mirrored to the other`;
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
