import { Op, type Transaction } from 'sequelize';
import type { FirstPass } from '@/core/match/first-pass';
import type { IntakeDecisions } from '@/core/intake/decisions';
import type { IntakeSheet } from '@/core/intake/intake-sheet';
import type { Rig } from '@/core/rig/rig';
import { blobHashOf, putBlob } from '../blobs/blob-store';
import { models, type InterpretationRow } from '../database/models';
import { inTransaction } from '../database/transaction';
import { processWide } from '../settings/process-wide';
import { runIntake, type IntakeResult } from '../work/pool';
import type { CharacterRecord } from '../characters/character-repository';
import { decisionsKey } from './decisions-key';
import { loadSourceFiles, type FreshFile } from '../characters/source-files';

/** What a character's files hold under one set of decisions. Never changes once it is made. */
export interface InterpretationRecord extends FirstPass {
  readonly glbHash: string;
  readonly rig: Rig;
  readonly sheet: IntakeSheet;
  /** Per node of the GLB: its index before the decisions; null where they are the same. */
  readonly origins: readonly number[] | null;
  readonly portrait: string;
}

/** A reading that is at hand, and how it is kept where it is new. */
export interface PreparedReading {
  readonly record: InterpretationRecord;
  /** Keeps it, within the transaction of the change that wants it; null where it is kept already. */
  readonly keep: ((transaction: Transaction) => Promise<void>) | null;
}

type Subject = Pick<CharacterRecord, 'id' | 'mainPath'>;

/** Parsing one once serves many requests. */
const MAX_CACHED = 32;
/** Shared by the whole process: what is removed must be gone for all. */
const parsed = processWide('readings', () => new Map<string, InterpretationRecord>());
/** Requests for the same reading at the same moment share one. */
const underway = new Map<string, Promise<PreparedReading>>();

function remember(cacheKey: string, record: InterpretationRecord): InterpretationRecord {
  parsed.delete(cacheKey);
  parsed.set(cacheKey, record);
  if (parsed.size > MAX_CACHED) parsed.delete(parsed.keys().next().value as string);
  return record;
}

const parse = (row: InterpretationRow): InterpretationRecord => ({
  glbHash: row.glbHash,
  rig: JSON.parse(row.rig) as Rig,
  ...(JSON.parse(row.firstPass) as FirstPass),
  sheet: JSON.parse(row.sheet) as IntakeSheet,
  origins: JSON.parse(row.origins) as number[] | null,
  portrait: row.portrait,
});

/**
 * The reading for a set of decisions, from the database or made by a worker; what is made is not kept yet.
 * @param fresh files that a change is about to add to the character.
 * @throws {YarvoError} where the decisions do not fit the files.
 */
export function prepareReading(
  character: Subject,
  decisions: IntakeDecisions,
  fresh: readonly FreshFile[] = [],
): Promise<PreparedReading> {
  const cacheKey = `${character.id} ${decisionsKey(decisions)}`;
  const known = parsed.get(cacheKey);
  if (known) return Promise.resolve({ record: remember(cacheKey, known), keep: null });
  // Files that are about to come may differ under one path: such a reading is nobody else's.
  if (fresh.length > 0) return findOrRead(character, decisions, fresh, cacheKey);
  const running = underway.get(cacheKey);
  if (running) return running;
  const made = findOrRead(character, decisions, fresh, cacheKey).finally(() => underway.delete(cacheKey));
  underway.set(cacheKey, made);
  return made;
}

async function findOrRead(
  character: Subject,
  decisions: IntakeDecisions,
  fresh: readonly FreshFile[],
  cacheKey: string,
): Promise<PreparedReading> {
  const where = { characterId: character.id, decisionsKey: decisionsKey(decisions) };
  const row = await models().Interpretation.findOne({ where });
  if (row) return { record: remember(cacheKey, parse(row)), keep: null };
  const files = await loadSourceFiles(character.id, decisions.supplied, fresh);
  const result = await runIntake({ files, main: character.mainPath, decisions });
  return {
    record: parse(rowOf(character.id, decisions, result)),
    keep: (transaction) => insertInterpretation(character.id, decisions, result, transaction),
  };
}

/**
 * The reading for a set of decisions that the character has or had; read from its files where it was collected.
 * @throws {YarvoError} where the decisions do not fit the files.
 */
export async function interpretationOf(character: Subject, decisions: IntakeDecisions): Promise<InterpretationRecord> {
  const { record, keep } = await prepareReading(character, decisions);
  if (keep) await inTransaction(keep);
  return record;
}

function rowOf(characterId: string, decisions: IntakeDecisions, result: IntakeResult): InterpretationRow {
  const { glb, rig, match, normalisation, sheet, origins, portrait } = result;
  const isSameOrder = origins.every((origin, index) => origin === index);
  return {
    characterId,
    decisionsKey: decisionsKey(decisions),
    glbHash: blobHashOf(glb),
    rig: JSON.stringify(rig),
    firstPass: JSON.stringify({ match, normalisation }),
    sheet: JSON.stringify(sheet),
    origins: JSON.stringify(isSameOrder ? null : origins),
    portrait,
    createdAt: new Date(),
  };
}

export async function insertInterpretation(
  characterId: string,
  decisions: IntakeDecisions,
  result: IntakeResult,
  transaction: Transaction,
): Promise<void> {
  await putBlob(result.glb, transaction);
  await models().Interpretation.upsert(rowOf(characterId, decisions, result), { transaction });
}

/** Whether a canonical file belongs to a character. */
export async function hasCanonical(characterId: string, glbHash: string): Promise<boolean> {
  return (await models().Interpretation.count({ where: { characterId, glbHash } })) > 0;
}

/** Removes a character's readings that are older than `before`, but for those under the given keys. @returns how many. */
export async function removeReadings(characterId: string, keptKeys: readonly string[], before: Date): Promise<number> {
  // One that is at hand but not kept would never be kept again.
  for (const key of [...parsed.keys()]) if (key.startsWith(`${characterId} `)) parsed.delete(key);
  return models().Interpretation.destroy({
    where: { characterId, decisionsKey: { [Op.notIn]: [...keptKeys] }, createdAt: { [Op.lt]: before } },
  });
}
