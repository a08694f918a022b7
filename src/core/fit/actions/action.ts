import type { z } from 'zod';
import type { Definition } from '../../definition/definition';
import type { Normalisation } from '../../frame/normalise';
import type { Match } from '../../match/context/match-types';
import type { Rig } from '../../rig/rig';
import type { FitState } from '../fit';

/** What an action may look at beside the fit itself. */
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

/** How things are called where an action is told. */
interface Naming {
  readonly role: (id: string) => string;
  readonly line: (id: string) => string;
  readonly bone: (index: number) => string;
}

/** One thing that a person can do to a fit: a step of its history. */
export interface ActionDefinition<Schema extends z.ZodObject = z.ZodObject> {
  readonly schema: Schema;
  /** What it is called in lists of actions. */
  readonly label: string;
  /** The fit after it; the given state is never changed. Roles that it names are known to exist. */
  readonly apply: (state: FitState, action: z.infer<Schema>, subject: FitSubject) => ActionOutcome;
  /** What it did, for the history a person reads. */
  readonly describe: (action: z.infer<Schema>, naming: Naming) => string;
}

/** Keeps the type of an action's own request. */
export const defineAction = <Schema extends z.ZodObject>(action: ActionDefinition<Schema>): ActionDefinition<Schema> =>
  action;
