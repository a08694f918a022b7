import type { Transaction } from 'sequelize';
import { assessFit, type Assessment } from '@/core/assess/assess';
import { assessmentView, type CharacterState, type FitView } from '@/core/character/character-view';
import { countBlockers } from '@/core/checks/run-checks';
import { YarvoError } from '@/core/errors/yarvo-error';
import { countDoubts, type FitState } from '@/core/fit/fit';
import { applyAction, CLOSED, describeAction, type FitAction } from '@/core/fit/fit-actions';
import { historyPosition, type ChangeKind } from '@/core/fit/history';
import { rebaseFit } from '@/core/fit/rebase-fit';
import { describeDecisions, type IntakeDecisions } from '@/core/intake/decisions';
import { findCharacter, updateCharacter, type CharacterRecord } from '../characters/character-repository';
import { decisionsKey } from '../characters/decisions-key';
import { interpretationOf, type InterpretationRecord } from '../characters/interpretations';
import { database } from '../database/connection';
import { defaultProfile, definitionOf } from '../definitions';
import { appendChange, findCurrentFit, findFit, listChangeRows, listHistory, readFitState, type FitRecord } from './fit-repository';

export type ChangeResult =
  | { readonly ok: true; readonly fit: FitView }
  | { readonly ok: false; readonly code: 'not-found' | 'conflict' | 'not-possible'; readonly message: string; readonly fit?: FitView };

export interface ChangeRequest {
  /** Revision the sender has seen. An older one is answered with the newer fit, never overwritten. */
  readonly baseRevision: number;
  readonly author: string;
}

/** What a change becomes. */
type StepOutcome =
  | { readonly ok: true; readonly kind: ChangeKind; readonly action: object | null; readonly description: string; readonly state: FitState; readonly reading: InterpretationRecord }
  | { readonly ok: false; readonly message: string };

interface StepSubject {
  readonly character: CharacterRecord;
  readonly fit: FitRecord;
  readonly state: FitState;
  readonly reading: InterpretationRecord;
}

export const changeFit = (characterId: string, action: FitAction, request: ChangeRequest): Promise<ChangeResult> =>
  step(characterId, request, async ({ state, reading }) => {
    const definition = definitionOf(state.definitionId);
    const outcome = applyAction(state, action, { ...reading, definition });
    if (!outcome.ok) return { ok: false, message: outcome.message };
    return { ok: true, kind: 'act', action, description: describeAction(action, definition, reading.rig), state: outcome.state, reading };
  }, action.kind === 'reopen');

/**
 * Changes how the file is understood. The files are read under the new decisions first; the fit is then carried over to
 * the rig that comes of it.
 */
export async function changeIntake(characterId: string, change: Partial<IntakeDecisions>, request: ChangeRequest): Promise<ChangeResult> {
  try {
    // The reading takes a worker and its time, so it is made before the fit is locked; the locked step finds it ready.
    const character = await findCharacter(characterId);
    const fit = character && (await findCurrentFit(characterId));
    if (fit) await interpretationOf(character, { ...fit.state.intake, ...change });
  } catch (error) {
    if (error instanceof YarvoError) return { ok: false, code: 'not-possible', message: `${error.problem.message} ${error.problem.remedy}` };
    throw error;
  }
  return step(characterId, request, async ({ character, state, reading }) => {
    const intake = { ...state.intake, ...change };
    if (JSON.stringify(intake) === JSON.stringify(state.intake)) return { ok: false, message: 'It is so already.' };
    const next = await interpretationOf(character, intake);
    const carried = rebaseFit(state, reading, next, definitionOf(state.definitionId), intake);
    return { ok: true, kind: 'act', action: { kind: 'intake', change }, description: describeDecisions(state.intake, intake), state: carried, reading: next };
  });
}

export const undoFit = (characterId: string, request: ChangeRequest): Promise<ChangeResult> => travel(characterId, 'undo', request);
export const redoFit = (characterId: string, request: ChangeRequest): Promise<ChangeResult> => travel(characterId, 'redo', request);

const travel = (characterId: string, kind: 'undo' | 'redo', request: ChangeRequest): Promise<ChangeResult> =>
  step(characterId, request, async ({ character, fit }, transaction) => {
    const position = historyPosition(await listChangeRows(fit.id, transaction));
    const target = kind === 'undo' ? position.undoTo : position.redoTo;
    if (target === null) return { ok: false, message: `There is nothing to ${kind}.` };
    const state = await readFitState(fit.id, target, transaction);
    return { ok: true, kind, action: null, description: `${kind} to revision ${target}`, state, reading: await interpretationOf(character, state.intake) };
  });

/** Brings back the fit as it was at an earlier revision, as a new step that can itself be undone. */
export const restoreFit = (characterId: string, revision: number, request: ChangeRequest): Promise<ChangeResult> =>
  step(characterId, request, async ({ character, fit }, transaction) => {
    if (revision >= fit.revision) return { ok: false, message: `Revision ${revision} is not behind the fit, which is at ${fit.revision}.` };
    const earlier = await readFitState(fit.id, revision, transaction);
    const state = { ...earlier, isClosed: false };
    return { ok: true, kind: 'act', action: { kind: 'restore', revision }, description: `back to revision ${revision}`, state, reading: await interpretationOf(character, state.intake) };
  });

/** One change under the fit's row lock: two people's changes follow each other, the later one sees a conflict. */
async function step(
  characterId: string,
  request: ChangeRequest,
  work: (subject: StepSubject, transaction: Transaction) => Promise<StepOutcome>,
  reopens = false,
): Promise<ChangeResult> {
  const character = await findCharacter(characterId);
  if (!character) return { ok: false, code: 'not-found', message: 'There is no such character.' };
  const done = await database().transaction(async (transaction): Promise<ChangeResult | null> => {
    const fit = await findFit(characterId, transaction, true);
    if (!fit) return { ok: false, code: 'not-found', message: 'The character has no fit.' };
    if (fit.revision !== request.baseRevision) {
      return { ok: false, code: 'conflict', message: `The fit is at revision ${fit.revision} by now; your change was made on revision ${request.baseRevision}.` };
    }
    const state = await readFitState(fit.id, fit.revision, transaction);
    if (state.isClosed && !reopens) return { ok: false, code: 'not-possible', message: CLOSED.message };
    const outcome = await work({ character, fit, state, reading: await interpretationOf(character, state.intake) }, transaction);
    if (!outcome.ok) return { ok: false, code: 'not-possible', message: outcome.message };
    const { reading } = outcome;
    const assessment = assess(reading, outcome.state);
    const [doubts, blockers] = [countDoubts(outcome.state), countBlockers(assessment.findings)];
    await appendChange(fit, { ...outcome, author: request.author, doubts, blockers }, transaction);
    await updateCharacter(characterId, {
      state: nextState(character.state, doubts, blockers), kind: reading.rig.kind, bones: reading.rig.bones.length, isHumanoid: reading.match.creature.isHumanoid, portrait: reading.portrait,
    }, transaction);
    return null;
  });
  if (done?.ok === false && done.code !== 'conflict') return done;
  const view = await readFitView(character);
  if (done?.ok === false) return { ...done, fit: view };
  return { ok: true, fit: view };
}

function nextState(state: CharacterState, doubts: number, blockers: number): CharacterState {
  if (state === 'handed off' || state === 'reopened') return 'reopened';
  return doubts === 0 && blockers === 0 ? 'ready' : 'in work';
}

const assess = ({ rig, match, normalisation }: InterpretationRecord, state: FitState): Assessment =>
  assessFit({ rig, match, normalisation, fit: state, definition: definitionOf(state.definitionId), profile: defaultProfile() });

/** The fit as it stands, with its history and what follows from it. */
export async function readFitView(character: CharacterRecord): Promise<FitView> {
  const fit = await findCurrentFit(character.id);
  if (!fit) throw new Error(`character ${character.id} has no fit`);
  const { state } = fit;
  const [rows, history] = await Promise.all([listChangeRows(fit.id), listHistory(fit.id)]);
  const position = historyPosition(rows);
  const reading = await interpretationOf(character, state.intake);
  return { revision: fit.revision, readingKey: decisionsKey(state.intake), state, canUndo: position.undoTo !== null, canRedo: position.redoTo !== null, history, ...assessmentView(assess(reading, state)) };
}
