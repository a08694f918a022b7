import { createHash } from 'node:crypto';
import { Op, type Transaction } from 'sequelize';
import type { IntakeDecisions } from '@/core/intake/decisions';
import type { IntakeSheet } from '@/core/intake/intake-sheet';
import type { Rig } from '@/core/rig/rig';
import type { Interpretation } from '@/pipeline/read';
import { blobHashOf, putBlob } from '../blobs/blob-store';
import { models, type ReadingRow } from '../database/models';
import { decisionsKey } from './decisions-key';

/** What a character's files hold under one set of decisions, as one reader saw it. Never changes once it is made. */
export interface ReadingRecord {
  readonly glbHash: string;
  readonly rig: Rig;
  readonly sheet: IntakeSheet;
  /** Per node of the GLB: its index before the decisions; null where they are the same. */
  readonly origins: readonly number[] | null;
}

/** Which reading of a character is meant. */
export interface ReadingName {
  readonly characterId: string;
  readonly decisionsKey: string;
  readonly readerVersion: number;
}

export const parseReading = (row: ReadingRow): ReadingRecord => ({
  glbHash: row.glbHash,
  rig: JSON.parse(row.rig) as Rig,
  sheet: JSON.parse(row.sheet) as IntakeSheet,
  origins: JSON.parse(row.origins) as number[] | null,
});

/** Names files, decisions and reader, whatever the character: equal files are read once. */
export function contentKey(
  files: readonly { readonly path: string; readonly blobHash: string }[],
  mainPath: string,
  decisions: IntakeDecisions,
  readerVersion: number,
): string {
  const sorted = files.map(({ path, blobHash }) => [path, blobHash]).sort(([a], [b]) => (a < b ? -1 : 1));
  const named = JSON.stringify([sorted, mainPath, decisionsKey(decisions), readerVersion]);
  return createHash('sha256').update(named).digest('hex');
}

export const findReading = (name: ReadingName): Promise<ReadingRow | null> =>
  models().Reading.findOne({ where: { ...name } });

/** A reading of the same files under the same decisions, of whatever character. */
export const findSameReading = (key: string): Promise<ReadingRow | null> =>
  models().Reading.findOne({ where: { contentKey: key } });

/** The row of a reading that a worker made. */
export function readingRow(name: ReadingName, key: string, made: Interpretation): ReadingRow {
  const isSameOrder = made.origins.every((origin, index) => origin === index);
  return {
    ...name,
    contentKey: key,
    glbHash: blobHashOf(made.glb),
    geometryHash: blobHashOf(made.geometry),
    tracksHash: blobHashOf(made.tracks),
    rig: JSON.stringify(made.rig),
    sheet: JSON.stringify(made.sheet),
    origins: JSON.stringify(isSameOrder ? null : made.origins),
    createdAt: new Date(),
  };
}

/** Keeps a reading, with its blocks where a worker has just made them. */
export async function insertReading(
  row: ReadingRow,
  made: Interpretation | null,
  transaction: Transaction,
): Promise<void> {
  for (const block of made ? [made.glb, made.geometry, made.tracks] : []) await putBlob(block, transaction);
  await models().Reading.upsert(row, { transaction });
}

/** Whether a canonical file belongs to a character. */
export async function hasCanonical(characterId: string, glbHash: string): Promise<boolean> {
  return (await models().Reading.count({ where: { characterId, glbHash } })) > 0;
}

/**
 * Removes a character's readings by the newest reader that are older than `before`, but for those under the given keys.
 * What an older reader read cannot be made again and stays. @returns how many.
 */
export function removeReadings(
  characterId: string,
  keptKeys: readonly string[],
  before: Date,
  readerVersion: number,
): Promise<number> {
  return models().Reading.destroy({
    where: { characterId, readerVersion, decisionsKey: { [Op.notIn]: [...keptKeys] }, createdAt: { [Op.lt]: before } },
  });
}
