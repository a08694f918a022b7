import type { Transaction } from 'sequelize';
import type { FirstPass } from '@/core/assess/assess';
import type { IntakeDecisions } from '@/core/intake/decisions';
import type { IntakeSheet } from '@/core/intake/intake-sheet';
import type { Rig } from '@/core/rig/rig';
import { putBlob } from '../blobs/blob-store';
import { database } from '../database/connection';
import { models, type InterpretationRow } from '../database/models';
import { runIntake, type IntakeResult } from '../work/pool';
import type { CharacterRecord } from './character-repository';
import { decisionsKey } from './decisions-key';
import { loadSourceFiles } from './source-files';

/** What a character's files hold under one set of decisions. Never changes once it is made. */
export interface InterpretationRecord extends FirstPass {
  readonly glbHash: string;
  readonly rig: Rig;
  readonly sheet: IntakeSheet;
  /** Per node of the GLB: its index before the decisions; null where they are the same. */
  readonly origins: readonly number[] | null;
  readonly portrait: string;
}

/** Parsing one once serves many requests. */
const MAX_CACHED = 32;
const parsed = new Map<string, InterpretationRecord>();

function parse(row: InterpretationRow): InterpretationRecord {
  const cacheKey = `${row.characterId} ${row.decisionsKey}`;
  const known = parsed.get(cacheKey);
  if (known) return known;
  const value: InterpretationRecord = {
    glbHash: row.glbHash,
    rig: JSON.parse(row.rig) as Rig,
    ...(JSON.parse(row.firstPass) as FirstPass),
    sheet: JSON.parse(row.sheet) as IntakeSheet,
    origins: JSON.parse(row.origins) as number[] | null,
    portrait: row.portrait,
  };
  parsed.set(cacheKey, value);
  if (parsed.size > MAX_CACHED) parsed.delete(parsed.keys().next().value as string);
  return value;
}

async function findInterpretation(characterId: string, key: string): Promise<InterpretationRecord | null> {
  const known = parsed.get(`${characterId} ${key}`);
  if (known) return known;
  const row = await models().Interpretation.findOne({ where: { characterId, decisionsKey: key } });
  return row && parse(row);
}

/**
 * The interpretation for a set of decisions; read from the files in a worker the first time it is asked for.
 * @throws {YarvoError} where the decisions do not fit the files.
 */
export async function interpretationOf(character: Pick<CharacterRecord, 'id' | 'mainPath'>, decisions: IntakeDecisions): Promise<InterpretationRecord> {
  const key = decisionsKey(decisions);
  const known = await findInterpretation(character.id, key);
  if (known) return known;
  const files = await loadSourceFiles(character.id, decisions.supplied);
  const result = await runIntake({ files, main: character.mainPath, decisions });
  await database().transaction((transaction) => insertInterpretation(character.id, decisions, result, transaction));
  return (await findInterpretation(character.id, key)) as InterpretationRecord;
}

export async function insertInterpretation(characterId: string, decisions: IntakeDecisions, result: IntakeResult, transaction: Transaction): Promise<void> {
  const glbHash = await putBlob(result.glb, transaction);
  const isSame = result.origins.every((origin, index) => origin === index);
  await models().Interpretation.upsert({
    characterId,
    decisionsKey: decisionsKey(decisions),
    glbHash,
    rig: JSON.stringify(result.rig),
    firstPass: JSON.stringify({ match: result.match, normalisation: result.normalisation }),
    sheet: JSON.stringify(result.sheet),
    origins: JSON.stringify(isSame ? null : result.origins),
    portrait: result.portrait,
  }, { transaction });
}

/** Whether a canonical file belongs to a character. */
export async function hasCanonical(characterId: string, glbHash: string): Promise<boolean> {
  return (await models().Interpretation.count({ where: { characterId, glbHash } })) > 0;
}
