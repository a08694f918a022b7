import { FitActionSchema } from '@/core/fit/actions/fit-actions';
import type { FitState } from '@/core/fit/fit';
import { isSameReading } from '@/core/intake/decisions';
import type { MatchedReading } from '../matches/matched-reading';
import type { Yardsticks } from '../library/count-names';
import { askJudge } from '../work/judge-thread';
import { listSteps, readFitState, type FitRecord, type FitStep } from './fit-repository';

export type OwnUndo =
  /** The last step is the author's own: it is undone as always. */
  | { readonly kind: 'last' }
  /** The author's last step is taken out from under those that others made after it. */
  | { readonly kind: 'taken-out'; readonly revision: number; readonly description: string; readonly state: FitState }
  | { readonly kind: 'refused'; readonly code: 'not-yours' | 'not-possible'; readonly message: string };

interface Subject {
  readonly fit: FitRecord;
  readonly state: FitState;
  readonly reading: MatchedReading;
  readonly yardsticks: Yardsticks;
}

/**
 * How a person's own last step is taken back. Steps that others made after it are made again on the fit without it;
 * where one of them does not go without it, nothing is changed and it is named.
 *
 * @param inForce revisions of the steps in force, oldest first, the start among them.
 */
export async function planOwnUndo(
  { fit, state, reading, yardsticks }: Subject,
  inForce: readonly number[],
  author: string,
): Promise<OwnUndo> {
  const steps = await listSteps(fit.id, inForce.slice(1));
  const last = steps[steps.length - 1];
  if (last.author === author) return { kind: 'last' };
  const at = steps.findLastIndex((step) => step.author === author);
  if (at < 0) {
    const message = `The last step is ${last.author}'s: "${last.description}". None of the steps in force is yours.`;
    return { kind: 'refused', code: 'not-yours', message };
  }
  const own = steps[at];
  const blocked = (step: FitStep, why: string): OwnUndo => ({
    kind: 'refused',
    code: 'not-possible',
    message:
      `Your last step, "${own.description}", cannot be taken back by itself: ${step.author}'s "${step.description}" ${why}. ` +
      'Pick an earlier revision in the history instead.',
  });
  let carried = await readFitState(fit.id, inForce[at]);
  if (!isSameReading(carried.intake, state.intake)) return blocked(last, 'stands on another reading of the file');
  const { definition } = yardsticks;
  for (const step of steps.slice(at + 1)) {
    const action = FitActionSchema.safeParse(step.action);
    if (!action.success) return blocked(step, 'came after it and cannot be made again without it');
    const order = { name: 'apply', fit: carried, action: action.data, definition } as const;
    const outcome = await askJudge(order, reading, reading.bytes);
    if (!outcome.ok) return blocked(step, 'builds on it');
    carried = outcome.state;
  }
  const description = `took back "${own.description}" from under ${last.author}'s steps`;
  return { kind: 'taken-out', revision: own.revision, description, state: carried };
}
