import { createHash } from 'node:crypto';
import { Op } from 'sequelize';
import type { Drilled } from '@/contract/board';
import type { Problem } from '@/core/errors/yarvo-error';
import { models } from '../database/models';

/** What is kept of carrying one motion to one character. */
export interface CarriedResult {
  readonly frames: number;
  readonly framesPerSecond: number;
  readonly sharesWith: string | null;
  readonly differsDeg: number | null;
  readonly drilled: Drilled | null;
  readonly problem: Problem | null;
}

export interface CarriedRecord extends CarriedResult {
  readonly characterId: string;
  readonly motionKey: string;
  readonly stamp: string;
  readonly author: string;
  readonly at: Date;
}

/** Names all that a cell is made from. */
export const stampOf = (motionStamp: string, fitStamp: string): string =>
  createHash('sha256').update(`${motionStamp}\n${fitStamp}`).digest('hex');

/** Keeps a cell. @returns false where its character was deleted meanwhile. */
export async function keepCarried({
  result,
  ...record
}: Omit<CarriedRecord, keyof CarriedResult> & { result: CarriedResult }): Promise<boolean> {
  const { characterId, motionKey, stamp, author, at } = record;
  try {
    await models().Carried.upsert({
      characterId,
      motionKey,
      stamp,
      harm: result.drilled?.harm ?? 0,
      isFailed: result.problem !== null,
      author,
      carriedAt: at,
      result: JSON.stringify(result),
    });
    return true;
  } catch (error) {
    if ((error as Error).name !== 'SequelizeForeignKeyConstraintError') throw error;
    return false;
  }
}

/** Cells of some characters. @param isFlagged only those in which the drill found something. */
export async function listCarried(
  characterIds: readonly string[],
  { isFlagged = false }: { readonly isFlagged?: boolean } = {},
): Promise<CarriedRecord[]> {
  if (characterIds.length === 0) return [];
  const rows = await models().Carried.findAll({
    where: { characterId: [...characterIds], ...(isFlagged && { harm: { [Op.gt]: 0 }, isFailed: false }) },
  });
  return rows.map(({ characterId, motionKey, stamp, author, carriedAt, result }) => ({
    characterId,
    motionKey,
    stamp,
    author,
    at: carriedAt,
    // Cells from before they were drilled have nothing of it.
    ...{ drilled: null, ...(JSON.parse(result) as Omit<CarriedResult, 'drilled'> & Partial<CarriedResult>) },
  }));
}

/** A cell as far as it says whether it has to be made again. */
export interface CarriedStamp {
  readonly characterId: string;
  readonly motionKey: string;
  readonly stamp: string;
  readonly isFailed: boolean;
}

/** Cells of some characters that were kept since a moment. */
export async function listStamps(
  characterIds: readonly string[],
  motionKeys: readonly string[],
  since: Date,
): Promise<CarriedStamp[]> {
  const rows = await models().Carried.findAll({
    where: { characterId: [...characterIds], motionKey: [...motionKeys], carriedAt: { [Op.gte]: since } },
    attributes: ['characterId', 'motionKey', 'stamp', 'isFailed'],
  });
  return rows.map(({ characterId, motionKey, stamp, isFailed }) => ({
    characterId,
    motionKey,
    stamp,
    isFailed: Boolean(isFailed),
  }));
}
