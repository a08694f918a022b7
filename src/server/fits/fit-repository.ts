import { randomUUID } from 'node:crypto';
import { Op, QueryTypes, type Transaction } from 'sequelize';
import { FitStateSchema, type FitState } from '@/core/fit/fit';
import type { ChangeKind, ChangeRow } from '@/core/fit/history';
import { database } from '../database/connection';
import { models } from '../database/models';
import { STUDIO } from '../library/studio';
import { canCarry, carryStampOf } from './carry-stamp';
import type { HistoryEntry } from '@/contract/character-view';

export interface FitRecord {
  readonly id: string;
  readonly characterId: string;
  readonly definitionId: string;
  readonly revision: number;
}

export interface NewFit {
  readonly characterId: string;
  readonly definitionId: string;
  readonly state: FitState;
  readonly description: string;
  readonly doubts: number;
  readonly blockers: number;
  readonly countedBy: string;
  readonly author: string;
  readonly at: Date;
}

/** As the state is read again: a stamp of the same state is the same, in whatever order its fields were made. */
function carryFields(state: FitState): { readonly carryStamp: string; readonly canCarry: boolean } {
  const read = FitStateSchema.parse(JSON.parse(JSON.stringify(state)));
  return { carryStamp: carryStampOf(read), canCarry: canCarry(read) };
}

export async function insertFit(fit: NewFit, transaction: Transaction): Promise<void> {
  const { Fit, FitChange } = models();
  const id = randomUUID();
  await Fit.create(
    {
      id,
      characterId: fit.characterId,
      definitionId: fit.definitionId,
      revision: 0,
      doubts: fit.doubts,
      blockers: fit.blockers,
      countedBy: fit.countedBy,
      ...carryFields(fit.state),
      updatedAt: fit.at,
    },
    { transaction },
  );
  await FitChange.create(
    {
      fitId: id,
      revision: 0,
      kind: 'start',
      description: fit.description.slice(0, 300),
      action: null,
      state: JSON.stringify(fit.state),
      author: fit.author,
      changeId: null,
      createdAt: fit.at,
    },
    { transaction },
  );
}

/** A character's fit to a definition; with `lock` nobody else can change it until the transaction ends. */
export async function findFit(
  characterId: string,
  definitionId: string,
  transaction?: Transaction,
  lock = false,
): Promise<FitRecord | null> {
  const row = await models().Fit.findOne({
    where: { characterId, definitionId },
    transaction,
    lock: lock ? true : undefined,
  });
  return row ? asRecord(row) : null;
}

/** All fits of a character, locked until the transaction ends. */
export async function lockFits(characterId: string, transaction: Transaction): Promise<FitRecord[]> {
  return (await models().Fit.findAll({ where: { characterId }, transaction, lock: true })).map(asRecord);
}

/** Every fit of a character. */
export async function listFits(characterId: string): Promise<FitRecord[]> {
  return (await models().Fit.findAll({ where: { characterId }, order: [['definitionId', 'ASC']] })).map(asRecord);
}

const asRecord = ({ id, characterId, definitionId, revision }: FitRecord): FitRecord => ({
  id,
  characterId,
  definitionId,
  revision,
});

export async function readFitState(fitId: string, revision: number): Promise<FitState> {
  const row = await models().FitChange.findOne({ where: { fitId, revision } });
  if (!row) throw new Error(`fit ${fitId} has no revision ${revision}`);
  return FitStateSchema.parse(JSON.parse(row.state));
}

/** A fit with its state as it stands. */
export type CurrentFit = FitRecord & { readonly state: FitState };

/** A character's fit to a definition as it stands; the studio's own where none is named. Null where there is none. */
export async function findCurrentFit(
  characterId: string,
  definitionId: string = STUDIO.definition,
): Promise<CurrentFit | null> {
  const fit = await findFit(characterId, definitionId);
  return fit && { ...fit, state: await readFitState(fit.id, fit.revision) };
}

/** Fits of some characters to the studio's own definition as they stand, by character: one statement. */
export async function findCurrentFits(characterIds: readonly string[]): Promise<Map<string, CurrentFit>> {
  if (characterIds.length === 0) return new Map();
  const rows = await database().query<FitRecord & { state: string }>(
    `SELECT f.id, f.character_id AS characterId, f.definition_id AS definitionId, f.revision, c.state
     FROM fits f JOIN fit_changes c ON c.fit_id = f.id AND c.revision = f.revision
     WHERE f.character_id IN (:characterIds) AND f.definition_id = :definitionId`,
    { replacements: { characterIds, definitionId: STUDIO.definition }, type: QueryTypes.SELECT },
  );
  return new Map(
    rows.map((row) => [row.characterId, { ...asRecord(row), state: FitStateSchema.parse(JSON.parse(row.state)) }]),
  );
}

export async function listChangeRows(fitId: string): Promise<ChangeRow[]> {
  const rows = await models().FitChange.findAll({
    where: { fitId },
    attributes: ['revision', 'kind'],
    order: [['revision', 'ASC']],
  });
  return rows.map((row) => ({ revision: row.revision, kind: row.kind as ChangeKind }));
}

/** A step with what was done, as far as it can be done again. */
export interface FitStep {
  readonly revision: number;
  readonly author: string;
  readonly description: string;
  readonly action: unknown;
}

/** Some steps of a fit, in the order of their revisions. */
export async function listSteps(fitId: string, revisions: readonly number[]): Promise<FitStep[]> {
  const rows = await models().FitChange.findAll({
    where: { fitId, revision: [...revisions] },
    attributes: ['revision', 'author', 'description', 'action'],
    order: [['revision', 'ASC']],
  });
  return rows.map(({ revision, author, description, action }) => ({
    revision,
    author,
    description,
    action: action === null ? null : (JSON.parse(action) as unknown),
  }));
}

const HISTORY_PAGE = 200;

/** The newest steps, or the newest before a revision. */
export async function listHistory(fitId: string, { before }: { before?: number } = {}): Promise<HistoryEntry[]> {
  const rows = await models().FitChange.findAll({
    where: before === undefined ? { fitId } : { fitId, revision: { [Op.lt]: before } },
    attributes: ['revision', 'kind', 'description', 'author', 'createdAt'],
    order: [['revision', 'DESC']],
    limit: HISTORY_PAGE,
  });
  return rows.map((row) => ({
    revision: row.revision,
    kind: row.kind,
    description: row.description,
    author: row.author,
    at: row.createdAt.toISOString(),
  }));
}

export interface NewChange {
  readonly kind: ChangeKind;
  readonly description: string;
  readonly action: object | null;
  readonly state: FitState;
  readonly author: string;
  /** What the sender calls the change; null where it has no name. */
  readonly changeId: string | null;
  readonly doubts: number;
  readonly blockers: number;
  readonly countedBy: string;
}

/** Appends a row and moves the fit to it. The fit must be locked by `transaction`. */
export async function appendChange(fit: FitRecord, change: NewChange, transaction: Transaction): Promise<number> {
  const { Fit, FitChange } = models();
  const revision = fit.revision + 1;
  const now = new Date();
  await FitChange.create(
    {
      fitId: fit.id,
      revision,
      kind: change.kind,
      description: change.description.slice(0, 300),
      action: change.action && JSON.stringify(change.action),
      state: JSON.stringify(change.state),
      author: change.author,
      changeId: change.changeId,
      createdAt: now,
    },
    { transaction },
  );
  await Fit.update(
    {
      revision,
      doubts: change.doubts,
      blockers: change.blockers,
      countedBy: change.countedBy,
      ...carryFields(change.state),
      updatedAt: now,
    },
    { where: { id: fit.id }, transaction },
  );
  return revision;
}

/** Whether a revision was made by the change of that name. */
export async function isMadeBy(fitId: string, revision: number, changeId: string): Promise<boolean> {
  return (await models().FitChange.count({ where: { fitId, revision, changeId } })) > 0;
}
