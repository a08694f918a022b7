import { createHash } from 'node:crypto';
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

export async function keepCarried({
  result,
  ...record
}: Omit<CarriedRecord, keyof CarriedResult> & { result: CarriedResult }): Promise<void> {
  const { characterId, motionKey, stamp, author, at } = record;
  await models().Carried.upsert({
    characterId,
    motionKey,
    stamp,
    author,
    carriedAt: at,
    result: JSON.stringify(result),
  });
}

export async function listCarried(characterIds: readonly string[]): Promise<CarriedRecord[]> {
  if (characterIds.length === 0) return [];
  const rows = await models().Carried.findAll({ where: { characterId: [...characterIds] } });
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
