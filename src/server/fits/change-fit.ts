import { isDeepStrictEqual } from 'node:util';
import type { Transaction } from 'sequelize';
import { assessmentView, type FitView } from '@/contract/character-view';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { FitState } from '@/core/fit/fit';
import type { FitAction } from '@/core/fit/actions/fit-actions';
import { CLOSED } from '@/core/fit/actions/outcome';
import { historyPosition, stepsInForce, type ChangeKind } from '@/core/fit/history';
import { rebaseFit } from '@/core/fit/rebase-fit';
import { skeletonSignature } from '@/core/rig/skeleton-signature';
import { describeDecisions, isSameReading, type IntakeDecisions } from '@/core/intake/decisions';
import {
  archivedText,
  findCharacter,
  lockCharacterState,
  updateCharacter,
  type CharacterRecord,
} from '../characters/character-repository';
import { decisionsKey } from '../readings/decisions-key';
import {
  currentBasis,
  matchedReading,
  prepareReading,
  type MatchedReading,
  type PreparedReading,
} from '../matches/matched-reading';
import { markParts } from '../characters/roster';
import { insertFreshFiles, type FreshFile } from '../characters/source-files';
import { inTransaction } from '../database/transaction';
import { STUDIO } from '../library/studio';
import { drillResultsOf } from './drill-results';
import type { Yardsticks } from '../library/count-names';
import { askJudge } from '../work/judge-thread';
import { assessReading, countReading, stateAfterChange, yardsticksOf } from './assess-reading';
import {
  appendChange,
  findCurrentFit,
  findFit,
  isMadeBy,
  listChangeRows,
  listHistory,
  readFitState,
  type FitRecord,
} from './fit-repository';
import { planOwnUndo } from './take-back';

export type RefusalCode = 'not-found' | 'conflict' | 'not-possible' | 'not-yours';

export type ChangeResult =
  | { readonly ok: true; readonly fit: FitView }
  | { readonly ok: false; readonly code: RefusalCode; readonly message: string; readonly fit?: FitView };

export interface ChangeRequest {
  /** Revision the sender has seen. An older one is answered with the newer fit, never overwritten. */
  readonly baseRevision: number;
  readonly author: string;
  /** Which fit of the character; default: to the studio's own definition. */
  readonly definitionId?: string;
  /** Names the change, so that one sent again after a lost answer is recognised. */
  readonly changeId?: string;
}

export interface UndoRequest extends ChangeRequest {
  /** "own": only a step of the author's is taken back, though others came after it. Default: whatever was last. */
  readonly whose?: 'own' | 'anyone';
}

/** What a change becomes. */
export type StepOutcome =
  | {
      readonly ok: true;
      readonly kind: ChangeKind;
      readonly action: object | null;
      readonly description: string;
      readonly state: FitState;
      readonly reading: PreparedReading;
    }
  | { readonly ok: false; readonly code?: RefusalCode; readonly message: string };

export interface StepSubject {
  readonly character: CharacterRecord;
  readonly fit: FitRecord;
  readonly state: FitState;
  readonly reading: MatchedReading;
  readonly yardsticks: Yardsticks;
}

/** What is written together with a change, or not at all. */
interface Along {
  readonly files?: readonly FreshFile[];
  readonly also?: (transaction: Transaction) => Promise<void>;
}

interface StepOptions {
  /** The one step that a closed fit takes. */
  readonly reopens?: boolean;
  readonly keepsState?: boolean;
}

const kept = (record: MatchedReading): PreparedReading => ({ record, keep: null });

export const changeFit = (characterId: string, action: FitAction, request: ChangeRequest): Promise<ChangeResult> =>
  step(
    characterId,
    request,
    async ({ state, reading, yardsticks: { definition } }) => {
      const outcome = await askJudge({ name: 'apply', fit: state, action, definition }, reading, reading.bytes);
      if (!outcome.ok) return { ok: false, message: outcome.message };
      const { description } = outcome;
      return { ok: true, kind: 'act', action, description, state: outcome.state, reading: kept(reading) };
    },
    { reopens: action.kind === 'reopen' },
  );

/**
 * Changes how the file is understood. The files are read under the new decisions first; the fit is then carried over to
 * the rig that comes of it. The reading is kept with the change, not without it.
 */
export const changeIntake = (
  characterId: string,
  change: Partial<IntakeDecisions>,
  request: ChangeRequest,
  along: Along = {},
): Promise<ChangeResult> =>
  step(
    characterId,
    request,
    async ({ character, state, reading, yardsticks }) => {
      const intake = { ...state.intake, ...change };
      if (JSON.stringify(intake) === JSON.stringify(state.intake)) return { ok: false, message: 'Already set.' };
      // Other decisions are read anew, by what reads today.
      const basis = isSameReading(intake, state.intake) ? state.basis : await currentBasis();
      const next = await prepareReading(character, { ...state, intake, basis }, along.files).catch(refusalOf);
      if ('message' in next) return { ok: false, message: next.message };
      return {
        ok: true,
        kind: 'act',
        action: { kind: 'intake', change },
        description: describeDecisions(state.intake, intake),
        state: { ...rebaseFit(state, reading, next.record, yardsticks.definition, intake), basis },
        reading: next,
      };
    },
    along,
  );

/** What a step that was worked out elsewhere comes to. */
interface ChangeMade {
  readonly action: object;
  readonly description: string;
  readonly state: FitState;
  readonly record: MatchedReading;
}

/**
 * A step that is worked out elsewhere on the fit as it stands.
 * @param keepsState for one that a person sees nothing of: the character is what it was.
 */
export const changeBy = (
  characterId: string,
  request: ChangeRequest,
  work: (subject: StepSubject) => ChangeMade | Promise<ChangeMade>,
  { keepsState = false }: { readonly keepsState?: boolean } = {},
): Promise<ChangeResult> =>
  step(
    characterId,
    request,
    async (subject) => {
      const { record, ...rest } = await work(subject);
      return { ok: true, kind: 'act', ...rest, reading: kept(record) };
    },
    { keepsState },
  );

/** Decisions that do not fit the files are a refused change, in the reader's own words. */
export function refusalOf(error: unknown): { message: string } {
  if (error instanceof YarvoError) return { message: `${error.problem.message} ${error.problem.remedy}` };
  throw error;
}

export const undoFit = (characterId: string, request: UndoRequest): Promise<ChangeResult> =>
  step(characterId, request, async (subject) => {
    const inForce = stepsInForce(await listChangeRows(subject.fit.id));
    if (inForce.length < 2) return { ok: false, message: 'There is nothing to undo.' };
    if (request.whose !== 'own') return travel(subject, 'undo', inForce[inForce.length - 2]);
    const plan = await planOwnUndo(subject, inForce, request.author);
    if (plan.kind === 'last') return travel(subject, 'undo', inForce[inForce.length - 2]);
    if (plan.kind === 'refused') return { ok: false, code: plan.code, message: plan.message };
    const action = { kind: 'take-back', revision: plan.revision };
    const { description, state } = plan;
    return { ok: true, kind: 'act', action, description, state, reading: kept(subject.reading) };
  });

export const redoFit = (characterId: string, request: ChangeRequest): Promise<ChangeResult> =>
  step(characterId, request, async (subject) => {
    const { redoTo } = historyPosition(await listChangeRows(subject.fit.id));
    return redoTo === null ? { ok: false, message: 'There is nothing to redo.' } : travel(subject, 'redo', redoTo);
  });

async function travel({ character, fit }: StepSubject, kind: 'undo' | 'redo', target: number): Promise<StepOutcome> {
  const kept = await earlierState(character, fit.id, target);
  return { ok: true, kind, action: null, description: `${kind} to revision ${target}`, ...kept };
}

/**
 * A fit as it was, with the reading that it speaks of. Where that was collected, and an older matcher had made its match,
 * today's takes its place: bones are counted by the reader, so what was assigned stays where it was.
 */
async function earlierState(
  character: CharacterRecord,
  fitId: string,
  revision: number,
): Promise<{ state: FitState; reading: PreparedReading }> {
  const state = await readFitState(fitId, revision);
  try {
    return { state, reading: await prepareReading(character, state) };
  } catch (error) {
    const isGone = error instanceof YarvoError && error.problem.code === 'reader-gone';
    const basis = await currentBasis();
    if (!isGone || state.basis.reader !== basis.reader) throw error;
    const renewed = { ...state, basis };
    return { state: renewed, reading: await prepareReading(character, renewed) };
  }
}

/** Brings back the fit as it was at an earlier revision, as a new step that can itself be undone. */
export const restoreFit = (characterId: string, revision: number, request: ChangeRequest): Promise<ChangeResult> =>
  step(characterId, request, async ({ character, fit }) => {
    if (revision >= fit.revision) {
      return {
        ok: false,
        message: `Revision ${revision} is not earlier than the fit, which is at revision ${fit.revision}.`,
      };
    }
    const { state, reading } = await earlierState(character, fit.id, revision);
    return {
      ok: true,
      kind: 'act',
      action: { kind: 'restore', revision },
      description: `back to revision ${revision}`,
      state: { ...state, isClosed: false },
      reading,
    };
  });

/**
 * One change of a fit. Everything that takes time is computed on the revision that the sender saw, without a lock: the
 * history is append-only, so a revision says all. The transaction then only looks whether the fit is still there, and
 * appends; it takes no second connection, and two people's changes follow each other, the later one as a conflict.
 */
export async function step(
  characterId: string,
  request: ChangeRequest,
  work: (subject: StepSubject) => Promise<StepOutcome>,
  { reopens = false, keepsState = false, files = [], also }: Along & StepOptions = {},
): Promise<ChangeResult> {
  const character = await findCharacter(characterId);
  const definitionId = request.definitionId ?? STUDIO.definition;
  const fit = character && (await findCurrentFit(characterId, definitionId));
  if (!character || !fit) return { ok: false, code: 'not-found', message: 'There is no such character.' };
  if (fit.revision !== request.baseRevision) return behind(character, fit, request);
  if (character.archivedAt) return { ok: false, code: 'not-possible', message: archivedText(character) };
  if (fit.state.isClosed && !reopens) return { ok: false, code: 'not-possible', message: CLOSED.message };
  const [reading, yardsticks] = await Promise.all([matchedReading(character, fit.state), yardsticksOf(fit.state)]);
  const outcome = await work({ character, fit, state: fit.state, reading, yardsticks });
  if (!outcome.ok) return { ok: false, code: outcome.code ?? 'not-possible', message: outcome.message };
  const { record, keep } = outcome.reading;
  const counts = await countReading(record, outcome.state, await yardsticksOf(outcome.state));
  const found = await inTransaction(async (transaction) => {
    const locked = await findFit(characterId, definitionId, transaction, true);
    if (locked?.revision !== fit.revision) return locked;
    const state = await lockCharacterState(characterId, transaction);
    await insertFreshFiles(characterId, files, request.author, transaction);
    await keep?.(characterId, transaction);
    await appendChange(
      fit,
      { ...outcome, author: request.author, changeId: request.changeId ?? null, ...counts },
      transaction,
    );
    await updateCharacter(
      characterId,
      {
        state: keepsState ? state : stateAfterChange(state, counts),
        kind: record.rig.kind,
        bones: record.rig.bones.length,
        isHumanoid: record.match.creature.isHumanoid,
        portrait: record.portrait,
        skeleton: skeletonSignature(record.rig),
      },
      transaction,
    );
    await also?.(transaction);
    const { parts } = outcome.state.intake;
    if (!isDeepStrictEqual(parts, fit.state.intake.parts)) await markParts(characterId, parts, transaction);
    return locked;
  });
  if (!found) return { ok: false, code: 'not-found', message: 'The character was deleted meanwhile.' };
  if (found.revision !== fit.revision) return behind(character, found, request);
  return { ok: true, fit: await readFitView(character, definitionId) };
}

/** The fit is further than the sender knew: by this very change, made before and its answer lost, or by somebody's. */
async function behind(
  character: CharacterRecord,
  { id, revision, definitionId }: FitRecord,
  request: ChangeRequest,
): Promise<ChangeResult> {
  const { baseRevision, changeId } = request;
  const isMade = changeId !== undefined && (await isMadeBy(id, baseRevision + 1, changeId));
  const fit = await readFitView(character, definitionId);
  if (isMade) return { ok: true, fit };
  const message = `The fit is at revision ${revision} by now; your change was made on revision ${baseRevision}.`;
  return { ok: false, code: 'conflict', message, fit };
}

/** The fit as it stands, with its history and what follows from it. */
export async function readFitView(
  character: CharacterRecord,
  definitionId: string = STUDIO.definition,
): Promise<FitView> {
  const fit = await findCurrentFit(character.id, definitionId);
  if (!fit) throw new Error(`character ${character.id} has no fit to ${definitionId}`);
  const { state } = fit;
  const [rows, history] = await Promise.all([listChangeRows(fit.id), listHistory(fit.id)]);
  const position = historyPosition(rows);
  const [reading, yardsticks, drill] = await Promise.all([
    matchedReading(character, state),
    yardsticksOf(state),
    drillResultsOf(fit),
  ]);
  return {
    revision: fit.revision,
    readingKey: `${decisionsKey(state.intake)} ${state.basis.reader} ${state.profile ?? ''}`,
    state,
    canUndo: position.undoTo !== null,
    canRedo: position.redoTo !== null,
    history,
    ...assessmentView(await assessReading(reading, state, yardsticks, { drill })),
  };
}
