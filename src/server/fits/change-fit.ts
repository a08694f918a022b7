import type { Transaction } from 'sequelize';
import { assessFit, type Assessment } from '@/core/assess/assess';
import { countBlockers } from '@/core/checks/run-checks';
import { countDoubts, type FitState } from '@/core/fit/fit';
import { applyAction, describeAction, type FitAction } from '@/core/fit/fit-actions';
import { historyPosition, type ChangeKind } from '@/core/fit/history';
import { findCharacter, updateCharacterState, type CharacterRecord } from '../characters/character-repository';
import { assessmentView, type CharacterState, type FitView } from '@/core/character/character-view';
import { database } from '../database/connection';
import { defaultProfile, definitionOf } from '../definitions';
import { appendChange, findFit, listChangeRows, listHistory, readFitState, type FitRecord } from './fit-repository';

export type ChangeResult =
  | { readonly ok: true; readonly fit: FitView }
  | { readonly ok: false; readonly code: 'not-found' | 'conflict' | 'not-possible'; readonly message: string; readonly fit?: FitView };

export interface ChangeRequest {
  /** Revision the sender has seen. An older one is answered with the newer fit, never overwritten. */
  readonly baseRevision: number;
  readonly author: string;
}

export const changeFit = (characterId: string, action: FitAction, request: ChangeRequest): Promise<ChangeResult> =>
  step(characterId, request, async (character, _fit, state) => {
    const definition = definitionOf(state.definitionId);
    const outcome = applyAction(state, action, { rig: character.rig, match: character.match, normalisation: character.normalisation, definition });
    if (!outcome.ok) return { ok: false, message: outcome.message };
    return { ok: true, kind: 'act', action, description: describeAction(action, definition, character.rig), state: outcome.state };
  });

export const undoFit = (characterId: string, request: ChangeRequest): Promise<ChangeResult> => travel(characterId, 'undo', request);
export const redoFit = (characterId: string, request: ChangeRequest): Promise<ChangeResult> => travel(characterId, 'redo', request);

const travel = (characterId: string, kind: 'undo' | 'redo', request: ChangeRequest): Promise<ChangeResult> =>
  step(characterId, request, async (_character, fit, _state, transaction) => {
    const position = historyPosition(await listChangeRows(fit.id, transaction));
    const target = kind === 'undo' ? position.undoTo : position.redoTo;
    if (target === null) return { ok: false, message: `There is nothing to ${kind}.` };
    return { ok: true, kind, action: null, description: `${kind} to revision ${target}`, state: await readFitState(fit.id, target, transaction) };
  });

type StepOutcome =
  | { readonly ok: true; readonly kind: ChangeKind; readonly action: FitAction | null; readonly description: string; readonly state: FitState }
  | { readonly ok: false; readonly message: string };

/** One change under the fit's row lock: two people's changes follow each other, the later one sees a conflict. */
async function step(
  characterId: string,
  request: ChangeRequest,
  work: (character: CharacterRecord, fit: FitRecord, state: FitState, transaction: Transaction) => Promise<StepOutcome>,
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
    const outcome = await work(character, fit, state, transaction);
    if (!outcome.ok) return { ok: false, code: 'not-possible', message: outcome.message };
    const assessment = assess(character, outcome.state);
    const [doubts, blockers] = [countDoubts(outcome.state), countBlockers(assessment.findings)];
    await appendChange(fit, { ...outcome, author: request.author, doubts, blockers }, transaction);
    await updateCharacterState(characterId, nextState(character.state, doubts, blockers), transaction);
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

const assess = (character: CharacterRecord, state: FitState): Assessment =>
  assessFit({ rig: character.rig, match: character.match, normalisation: character.normalisation, fit: state, definition: definitionOf(state.definitionId), profile: defaultProfile() });

/** The fit as it stands, with its history and what follows from it. */
export async function readFitView(character: CharacterRecord): Promise<FitView> {
  const fit = await findFit(character.id);
  if (!fit) throw new Error(`character ${character.id} has no fit`);
  const [state, rows, history] = await Promise.all([readFitState(fit.id, fit.revision), listChangeRows(fit.id), listHistory(fit.id)]);
  const position = historyPosition(rows);
  return { revision: fit.revision, state, canUndo: position.undoTo !== null, canRedo: position.redoTo !== null, history, ...assessmentView(assess(character, state)) };
}
