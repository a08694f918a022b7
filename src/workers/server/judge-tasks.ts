import { LRUCache } from 'lru-cache';
import type { Assessment } from '@/core/checks/assessment';
import type { Definition } from '@/core/definition/definition';
import { problemOf, YarvoError } from '@/core/errors/yarvo-error';
import { applyAction, describeAction, type FitAction } from '@/core/fit/actions/fit-actions';
import type { FitState } from '@/core/fit/fit';
import type { FirstPass } from '@/core/match/first-pass';
import { planHandoff } from '@/core/plan/handoff-plan';
import type { DrillResult } from '@/core/plan/drill-result';
import type { EngineProfile } from '@/core/profile/profile';
import { chooseRepairs, type ChosenRepairs } from '@/core/repairs/choose-repairs';
import { SAFE_REPAIRS, type RepairKind } from '@/core/repairs/repair-kinds';
import { NO_NODE } from '@/core/intake/decisions';
import type { Rig } from '@/core/rig/rig';
import { assessFit, judge } from '@/pipeline/judge';
import type { Envelope } from './tasks';

/** A reading as far as it is judged. */
export interface JudgedReading extends FirstPass {
  readonly rig: Rig;
  /** Per node: its index in the file as read; null where they are the same. */
  readonly origins: readonly number[] | null;
}

/** What a fit is judged by. */
interface Yardsticks {
  readonly definition: Definition;
  readonly profile: EngineProfile;
}

/** What is asked about a fit on a reading. */
export type JudgeOrder =
  | {
      readonly name: 'assess';
      readonly fit: FitState;
      readonly drill: readonly DrillResult[];
      readonly yardsticks: Yardsticks;
      readonly day: string;
    }
  | { readonly name: 'apply'; readonly fit: FitState; readonly action: FitAction; readonly definition: Definition }
  | {
      readonly name: 'repair';
      readonly fit: FitState;
      readonly yardsticks: Yardsticks;
      readonly wanted: readonly RepairKind[] | 'safe';
    }
  | { readonly name: 'names'; readonly fit: FitState; readonly yardsticks: Yardsticks };

type Applied =
  | { readonly ok: true; readonly state: FitState; readonly description: string }
  | { readonly ok: false; readonly message: string };

/** Repairs that are offered and meant, and the decisions with them made. */
interface RepairRound extends ChosenRepairs {
  readonly meant: readonly RepairKind[];
}

/** Answers by the order's name. */
export interface JudgeAnswers {
  readonly assess: Assessment;
  readonly apply: Applied;
  readonly repair: RepairRound;
  /** Name of each bone in the handed-off file, by its index. */
  readonly names: readonly string[];
}

/** An order with the reading that it is about; the reading itself comes along where it may not be known. */
export interface JudgeMessage {
  readonly id: number;
  readonly order: JudgeOrder;
  readonly readingId: number;
  readonly reading: JudgedReading | null;
  /** Roughly what the reading takes, bytes. */
  readonly bytes: number;
}

export type JudgeReply =
  | { readonly id: number; readonly kind: 'answer'; readonly envelope: Envelope<unknown> }
  /** The reading is not at hand any more: it is to be sent along. */
  | { readonly id: number; readonly kind: 'unknown-reading' };

const MOST_BYTES = 128 * 1024 * 1024;
const known = new LRUCache<number, JudgedReading>({ maxSize: MOST_BYTES, maxEntrySize: MOST_BYTES });

/** Answers one order. */
export function answerJudge({ id, order, readingId, reading, bytes }: JudgeMessage): JudgeReply {
  if (reading) known.set(readingId, reading, { size: Math.max(1, bytes) });
  const subject = reading ?? known.get(readingId);
  if (!subject) return { id, kind: 'unknown-reading' };
  try {
    return { id, kind: 'answer', envelope: { ok: true, value: carryOut(order, subject) } };
  } catch (error) {
    const stack = error instanceof Error && !(error instanceof YarvoError) ? error.stack : undefined;
    return { id, kind: 'answer', envelope: { ok: false, problem: problemOf(error, order.name), stack } };
  }
}

function carryOut(order: JudgeOrder, { origins, ...reading }: JudgedReading): JudgeAnswers[JudgeOrder['name']] {
  switch (order.name) {
    case 'assess':
      return assessFit({ ...reading, fit: order.fit, drill: order.drill, ...order.yardsticks }, order.day);
    case 'apply': {
      const { fit, action, definition } = order;
      const outcome = applyAction(fit, action, { ...reading, definition });
      if (!outcome.ok) return { ok: false, message: outcome.message };
      const told = describeAction(action, definition, reading.rig);
      const lost = lostRoles(fit, outcome.state, action, definition);
      return { ok: true, state: outcome.state, description: lost === '' ? told : `${told}; ${lost}` };
    }
    case 'repair': {
      const { fit, yardsticks, wanted } = order;
      const plan = planHandoff({ ...reading, fit, ...yardsticks });
      const offered = judge(plan).findings.flatMap(({ repair }) => repair ?? []);
      const meant = new Set(offered.filter((kind) => (wanted === 'safe' ? SAFE_REPAIRS : wanted).includes(kind)));
      const chosen = chooseRepairs(plan, meant, (node) => (origins ? (origins[node] ?? NO_NODE) : node));
      return { ...chosen, meant: [...meant] };
    }
    case 'names':
      return planHandoff({ ...reading, fit: order.fit, ...order.yardsticks }).names.names;
    default:
      return order satisfies never;
  }
}

/** Roles whose bone another one took: a bone has one role, and what loses it must be said. */
function lostRoles(before: FitState, after: FitState, action: FitAction, { roles }: Definition): string {
  if (!['assign', 'fill-line', 'swap', 'mirror'].includes(action.kind)) return '';
  const lost = roles.filter(({ id }) => before.assignments[id] && !after.assignments[id]).map(({ label }) => label);
  if (lost.length === 0) return '';
  return `${lost.join(', ')} ${lost.length === 1 ? 'has' : 'have'} no bone now`.slice(0, 200);
}
