import { z } from 'zod';
import { mirrorRole, type Definition } from '../definition/definition';
import { SPARE_KINDS, type Match } from '../match/match-types';
import type { Normalisation } from '../normalise/normalise';
import { alignPosture } from '../posture/align-posture';
import type { Rig } from '../rig/rig';
import { boundedArray } from '../schema/bounded-array';
import { fillLine } from './fill-line';
import { initialFit, roleBonesOf, type Assignment, type FitState } from './fit';

const BoneIndex = z.int().nonnegative();
/** Whether a definition knows it is asked when the action is applied. */
const RoleId = z.string().max(100);
const MOST_ROLES = 500;

/** What a person can do to a fit. Each is one step of the history. */
export const FitActionSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('assign'), role: RoleId, boneIndex: BoneIndex }),
  z.strictObject({ kind: z.literal('clear'), role: RoleId }),
  z.strictObject({ kind: z.literal('settle'), roles: boundedArray(RoleId, MOST_ROLES, 1) }),
  z.strictObject({ kind: z.literal('settle-above'), confidence: z.number().min(0).max(1) }),
  z.strictObject({ kind: z.literal('swap'), roles: z.tuple([RoleId, RoleId]) }),
  z.strictObject({ kind: z.literal('clear-line'), line: z.string().max(100) }),
  z.strictObject({ kind: z.literal('clear-all') }),
  /** Puts onto the other side what stands on this one, by the mirror partners of its bones. */
  z.strictObject({ kind: z.literal('mirror'), from: z.enum(['left', 'right']) }),
  z.strictObject({ kind: z.literal('swap-sides') }),
  z.strictObject({ kind: z.literal('leave-vacant'), role: RoleId }),
  /** Bones of a line in order; with two, those between them on the tree come along; with one, the run that starts there. */
  z.strictObject({ kind: z.literal('fill-line'), line: z.string().max(100), bones: boundedArray(BoneIndex, 100, 1) }),
  z.strictObject({
    kind: z.literal('set-spare-kind'),
    bones: boundedArray(BoneIndex, 20_000, 1),
    spareKind: z.enum(SPARE_KINDS).nullable(),
  }),
  z.strictObject({ kind: z.literal('close') }),
  z.strictObject({ kind: z.literal('reopen'), reason: z.string().trim().min(3).max(200) }),
  z.strictObject({ kind: z.literal('rematch') }),
  z.strictObject({ kind: z.literal('align-posture'), roles: boundedArray(RoleId, MOST_ROLES).optional() }),
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
  | {
      readonly ok: false;
      readonly code: 'unknown-role' | 'unknown-bone' | 'nothing-to-do' | 'closed' | 'not-finished' | 'no-run';
      readonly message: string;
    };

/** The fit after an action; the given state is never changed. */
export function applyAction(state: FitState, action: FitAction, subject: FitSubject): ActionOutcome {
  if (state.isClosed && action.kind !== 'reopen') return CLOSED;
  const unknown = rolesNamed(action).find((role) => !hasRole(subject.definition, role));
  if (unknown !== undefined) return unknownRole(subject.definition, unknown);
  switch (action.kind) {
    case 'assign':
      return assign(state, action.role, action.boneIndex, subject);
    case 'clear': {
      if (!Object.hasOwn(state.assignments, action.role)) return nothing(`${action.role} has no bone.`);
      return done(state, { assignments: without(state, action.role) });
    }
    case 'leave-vacant':
      if (state.leftVacant.includes(action.role)) return nothing('Already left vacant.');
      return done(state, { assignments: without(state, action.role), leftVacant: [...state.leftVacant, action.role] });
    case 'fill-line':
      return putRun(state, fillLine(action.line, action.bones, subject), subject);
    case 'set-spare-kind':
      return setSpareKind(state, action.bones, action.spareKind, subject);
    case 'close':
      return close(state, subject.definition);
    case 'reopen':
      return state.isClosed ? done(state, { isClosed: false }) : nothing('The fit is open.');
    case 'settle':
      return settle(state, (role) => action.roles.includes(role));
    case 'settle-above':
      // A doubt wants a person's look: settling in bulk leaves it as it is.
      return settle(
        state,
        (role, assignment) =>
          assignment.origin === 'match' &&
          assignment.state === 'proposed' &&
          isStillProposed(role, assignment, subject.match, action.confidence),
      );
    case 'swap':
      return swap(state, action.roles);
    case 'clear-line':
      return clearWhere(
        state,
        (role) => subject.definition.roles.find((candidate) => candidate.id === role)?.line === action.line,
      );
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

/** What holds whatever was done: a role with a bone is not left vacant, a bone with a role is no spare. */
function done(state: FitState, change: Partial<FitState>): ActionOutcome {
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
const without = ({ assignments }: FitState, role: string): FitState['assignments'] =>
  Object.fromEntries(Object.entries(assignments).filter(([other]) => other !== role));
/** Every role that an action names; what it may name is asked once, for all of them. */
function rolesNamed(action: FitAction): readonly string[] {
  if ('role' in action) return [action.role];
  return 'roles' in action ? (action.roles ?? []) : [];
}

const hasRole = (definition: Definition, role: string): boolean =>
  definition.roles.some((candidate) => candidate.id === role);
const unknownRole = (definition: Definition, role: string): ActionOutcome => ({
  ok: false,
  code: 'unknown-role',
  message: `${definition.label} has no role "${role}".`,
});
const nothing = (message: string): ActionOutcome => ({ ok: false, code: 'nothing-to-do', message });

/** One bone has one role: giving it another moves it. */
function assign(state: FitState, role: string, boneIndex: number, { rig }: FitSubject): ActionOutcome {
  if (boneIndex >= rig.bones.length)
    return {
      ok: false,
      code: 'unknown-bone',
      message: `There is no bone ${boneIndex}; the rig has ${rig.bones.length}.`,
    };
  return done(state, { assignments: putBones(state, new Map([[role, boneIndex]])) });
}

/** Roles with the bones a person gave them; whatever held one of these bones before loses it. */
function putBones(state: FitState, bones: ReadonlyMap<string, number>): FitState['assignments'] {
  const taken = new Set(bones.values());
  const kept = Object.entries(state.assignments).filter(
    ([role, { boneIndex }]) => !bones.has(role) && !taken.has(boneIndex),
  );
  const put = [...bones].map(([role, boneIndex]) => [
    role,
    { boneIndex, state: 'settled' as const, origin: 'person' as const },
  ]);
  return { ...Object.fromEntries(kept), ...Object.fromEntries(put) };
}

/** Roles of the line that the run does not reach stand empty: what they held belonged to another reading of it. */
function putRun(state: FitState, run: ReadonlyMap<string, number> | string, { definition }: FitSubject): ActionOutcome {
  if (typeof run === 'string') return { ok: false, code: 'no-run', message: run };
  const lineOf = (role: string) => definition.roles.find(({ id }) => id === role)?.line;
  const [first] = run.keys();
  const assignments = Object.fromEntries(
    Object.entries(state.assignments).filter(([role]) => lineOf(role) !== lineOf(first)),
  );
  return done(state, { assignments: putBones({ ...state, assignments }, run) });
}

function setSpareKind(
  state: FitState,
  bones: readonly number[],
  kind: FitState['spareKinds'][string] | null,
  { rig }: FitSubject,
): ActionOutcome {
  const missing = bones.find((bone) => bone >= rig.bones.length);
  if (missing !== undefined)
    return {
      ok: false,
      code: 'unknown-bone',
      message: `There is no bone ${missing}; the rig has ${rig.bones.length}.`,
    };
  const mapped = new Set(roleBonesOf(state).values());
  const spares = bones.filter((bone) => !mapped.has(bone));
  if (spares.length === 0) return nothing('These bones have roles; only spares have a kind.');
  const meant = new Set(spares.map(String));
  const kept = Object.fromEntries(Object.entries(state.spareKinds).filter(([bone]) => !meant.has(bone)));
  return done(state, {
    spareKinds: kind === null ? kept : { ...kept, ...Object.fromEntries(spares.map((bone) => [String(bone), kind])) },
  });
}

/** Only a fit without doubts, and with a bone for every required role, is finished. */
function close(state: FitState, definition: Definition): ActionOutcome {
  const doubtful = definition.roles.filter(({ id }) => state.assignments[id]?.state === 'doubtful');
  const missing = definition.roles.filter(({ id, required }) => required && !state.assignments[id]);
  const open = [
    ...missing.map(({ label }) => `${label} has no bone`),
    ...doubtful.map(({ label }) => `${label} is doubtful`),
  ];
  if (open.length > 0)
    return {
      ok: false,
      code: 'not-finished',
      message: `The fit is not finished: ${open.slice(0, 4).join(', ')}${open.length > 4 ? ` and ${open.length - 4} more` : ''}.`,
    };
  return done(state, { isClosed: true });
}

/** Two roles exchange their bones; either may be vacant, not both. */
function swap(state: FitState, [a, b]: readonly [string, string]): ActionOutcome {
  const { [a]: ofA, [b]: ofB, ...others } = state.assignments;
  if (a === b || (!ofA && !ofB)) return nothing('There is nothing to exchange.');
  const put = (role: string, assignment: Assignment | undefined) =>
    assignment
      ? { [role]: { boneIndex: assignment.boneIndex, state: 'settled' as const, origin: 'person' as const } }
      : {};
  return done(state, { assignments: { ...others, ...put(a, ofB), ...put(b, ofA) } });
}

function clearWhere(state: FitState, isMeant: (role: string) => boolean): ActionOutcome {
  const kept = Object.entries(state.assignments).filter(([role]) => !isMeant(role));
  if (kept.length === Object.keys(state.assignments).length) return nothing('There is nothing to clear.');
  return done(state, { assignments: Object.fromEntries(kept) });
}

function mirror(state: FitState, from: 'left' | 'right', { match }: FitSubject): ActionOutcome {
  const put = new Map<string, number>();
  for (const [role, { boneIndex }] of Object.entries(state.assignments)) {
    const partner = role.startsWith(from) ? (match.partners[boneIndex] ?? -1) : -1;
    if (partner >= 0 && partner !== boneIndex) put.set(mirrorRole(role), partner);
  }
  const changed = new Map([...put].filter(([role, boneIndex]) => state.assignments[role]?.boneIndex !== boneIndex));
  if (changed.size === 0)
    return nothing(
      put.size === 0 ? `Nothing on the ${from} side has a mirror image.` : 'The other side already matches.',
    );
  return done(state, { assignments: putBones(state, changed) });
}

function settle(state: FitState, isMeant: (role: string, assignment: Assignment) => boolean): ActionOutcome {
  const chosen = Object.entries(state.assignments).filter(
    ([role, assignment]) => assignment.state !== 'settled' && isMeant(role, assignment),
  );
  if (chosen.length === 0) return nothing('There is nothing left to settle.');
  const settled = Object.fromEntries(
    chosen.map(([role, assignment]) => [role, { ...assignment, state: 'settled' as const }]),
  );
  return done(state, { assignments: { ...state.assignments, ...settled } });
}

function isStillProposed(role: string, assignment: Assignment, match: Match, confidence: number): boolean {
  const proposal = match.assignments[role];
  return proposal?.boneIndex === assignment.boneIndex && proposal.confidence >= confidence;
}

/** Left becomes right throughout: for rigs whose sides were told wrongly. */
function swapSides(state: FitState): ActionOutcome {
  return done(state, {
    assignments: Object.fromEntries(
      Object.entries(state.assignments).map(([role, assignment]) => [mirrorRole(role), assignment]),
    ),
  });
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
      return `proposals at ${Math.round(action.confidence * 100)} % or more settled`;
    case 'swap':
      return `${label(action.roles[0])} and ${label(action.roles[1])} exchanged`;
    case 'clear-line':
      return `${definition.lines.find((line) => line.id === action.line)?.label ?? action.line} cleared`;
    case 'clear-all':
      return 'all roles cleared';
    case 'mirror':
      return `${action.from} side copied to the ${action.from === 'left' ? 'right' : 'left'}`;
    case 'leave-vacant':
      return `${label(action.role)} left vacant`;
    case 'fill-line':
      return `${definition.lines.find((line) => line.id === action.line)?.label ?? action.line} filled by its bones`;
    case 'set-spare-kind':
      return `${action.bones.length === 1 ? (rig.bones[action.bones[0]]?.name ?? action.bones[0]) : `${action.bones.length} spares`} ${action.spareKind === null ? 'explained as found' : `set to ${action.spareKind}`}`;
    case 'close':
      return 'fit closed';
    case 'reopen':
      return `fit reopened: ${action.reason}`;
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
