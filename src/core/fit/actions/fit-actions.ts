import { z } from 'zod';
import type { Definition } from '../../definition/definition';
import type { Rig } from '../../rig/rig';
import type { FitState } from '../fit';
import type { ActionDefinition, ActionOutcome, FitSubject } from './action';
import { alignPosture } from './align-posture';
import { assign } from './assign';
import { clear } from './clear';
import { clearAll } from './clear-all';
import { clearLine } from './clear-line';
import { close } from './close';
import { fillLine } from './fill-line';
import { leaveVacant } from './leave-vacant';
import { mirror } from './mirror';
import { mirrorPosture } from './mirror-posture';
import { rematch } from './rematch';
import { reopen } from './reopen';
import { resetPosture } from './reset-posture';
import { setArmOffset } from './set-arm-offset';
import { setCarrying } from './set-carrying';
import { setHandoff } from './set-handoff';
import { setOrigin } from './set-origin';
import { setMorph } from './set-morph';
import { setPackMotions } from './set-pack-motions';
import { setPose } from './set-pose';
import { setProfile } from './set-profile';
import { setSmallBend } from './set-small-bend';
import { setSpareKind } from './set-spare-kind';
import { settle } from './settle';
import { settleAbove } from './settle-above';
import { swap } from './swap';
import { swapSides } from './swap-sides';
import { turnRoles } from './turn-roles';
import { CLOSED } from './outcome';

/** Every action there is; a new one is a file beside this one and a line here. */
const ACTIONS = [
  assign,
  clear,
  settle,
  settleAbove,
  swap,
  clearLine,
  clearAll,
  mirror,
  swapSides,
  leaveVacant,
  fillLine,
  setSpareKind,
  close,
  reopen,
  rematch,
  alignPosture,
  resetPosture,
  turnRoles,
  mirrorPosture,
  setPose,
  setArmOffset,
  setCarrying,
  setPackMotions,
  setSmallBend,
  setOrigin,
  setHandoff,
  setMorph,
  setProfile,
] as const;

type SchemasOf<Actions> = {
  [Index in keyof Actions]: Actions[Index] extends { schema: infer Schema } ? Schema : never;
};
type Schemas = SchemasOf<typeof ACTIONS>;

/** The same without their own types: a union of all of them is too much for the compiler. */
const LISTED = ACTIONS as unknown as readonly ActionDefinition<z.ZodObject<{ kind: z.ZodLiteral<string> }>>[];

for (const { schema, label } of LISTED) schema.register(z.globalRegistry, { description: label });

/** What a person can do to a fit. Each is one step of the history. */
export const FitActionSchema = z.discriminatedUnion('kind', LISTED.map(({ schema }) => schema) as unknown as Schemas);
export type FitAction = z.infer<typeof FitActionSchema>;

const BY_KIND = new Map<string, ActionDefinition>(
  LISTED.map((action) => [action.schema.shape.kind.value, action as ActionDefinition]),
);
const definitionOf = ({ kind }: FitAction): ActionDefinition => BY_KIND.get(kind) as ActionDefinition;

/** The fit after an action; the given state is never changed. */
export function applyAction(state: FitState, action: FitAction, subject: FitSubject): ActionOutcome {
  if (state.isClosed && action.kind !== 'reopen') return CLOSED;
  const { definition } = subject;
  const unknown = rolesNamed(action).find((role) => !definition.roles.some(({ id }) => id === role));
  if (unknown !== undefined)
    return { ok: false, code: 'unknown-role', message: `${definition.label} has no role "${unknown}".` };
  return definitionOf(action).apply(state, action, subject);
}

/** Every role that an action names; what it may name is asked once, for all of them. */
function rolesNamed(action: FitAction): readonly string[] {
  if ('role' in action) return [action.role];
  return 'roles' in action ? (action.roles ?? []) : [];
}

/** What an action did, for the history a person reads. */
export function describeAction(action: FitAction, definition: Definition, rig: Rig): string {
  return definitionOf(action).describe(action, {
    role: (role) => definition.roles.find(({ id }) => id === role)?.label ?? role,
    line: (line) => definition.lines.find(({ id }) => id === line)?.label ?? line,
    bone: (bone) => rig.bones[bone]?.name ?? String(bone),
  });
}
