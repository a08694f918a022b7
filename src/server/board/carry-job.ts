import { randomUUID } from 'node:crypto';
import type { CarriedBoard } from '@/contract/board';
import type { CarriedCell } from '@/core/drill/carry-many';
import { problemOf } from '@/core/errors/yarvo-error';
import { forMotion } from '@/core/motion/carry-options';
import { countText } from '@/core/text/count';
import { getBlob } from '../blobs/blob-store';
import { models } from '../database/models';
import type { JobQueue, JobRecord } from '../jobs/job-queue';
import type { JobHandler } from '../jobs/runner';
import { keyedMotion, oncePerDefinition, type KeyedMotion } from '../motions/recipe';
import { runCarry } from '../work/pool';
import { listStamps, keepCarried, stampOf, type CarriedResult } from './carried-repository';
import { listRiders, type Rider } from './riders';
import { boarded, type BoardedCharacter } from './passengers';

interface CarryPayload {
  readonly characterIds: readonly string[];
  readonly motionKeys: readonly string[];
  /** What they were called as it was queued: one that is deleted is still named. */
  readonly names: Readonly<Record<string, string>>;
}

/** Characters of one call to a worker: their rigs go along. */
const AT_ONCE = 8;

/** Queues carrying some motions to some characters; a job of that id that is there already stays. */
export async function queueCarry(
  queue: JobQueue,
  { characterIds, motionKeys }: Omit<CarryPayload, 'names'>,
  author: string,
  id: string = randomUUID(),
): Promise<JobRecord> {
  const label = `${countText(motionKeys.length, 'motion')} to ${countText(characterIds.length, 'character')}`;
  const rows = await models().Character.findAll({ where: { id: [...characterIds] }, attributes: ['id', 'name'] });
  const motions = await models().Motion.findAll({ where: { id: [...motionKeys] }, attributes: ['id', 'name'] });
  const names = Object.fromEntries([...rows, ...motions].map((row) => [row.id, row.name]));
  const payload: CarryPayload = { characterIds, motionKeys, names };
  // Each is about cells of its own: nobody's work waits for somebody else's.
  return queue.add({ id, kind: 'carry', subject: `cells of ${id}`, label, author, payload });
}

/**
 * Each cell is kept as soon as it is done: what a cancel leaves stays, and after a restart, or when others went first, the
 * job goes on with the cells that it has not made yet.
 */
export const carryHandler: JobHandler = {
  async work({ payload, author, createdAt, signal, report, letOthersGo }): Promise<CarriedBoard> {
    const { characterIds, motionKeys, names } = payload as CarryPayload;
    const total = Math.max(1, characterIds.length * motionKeys.length);
    report({ share: 0, stage: 'Reading the characters' });
    const riders = await listRiders(characterIds);
    const motions = await motionsOf(motionKeys);
    const gone = new Set<string>();
    for (const id of characterIds) if (!riders.some((rider) => rider.id === id)) gone.add(names[id] ?? id);
    for (const key of motionKeys) if (!motions.some((motion) => motion.key === key)) gone.add(names[key] ?? key);
    let failed = 0;
    let done = (characterIds.length - riders.length) * motionKeys.length;
    done += riders.length * (motionKeys.length - motions.length);
    const take = async (
      rider: Pick<Rider, 'id' | 'name'>,
      motion: KeyedMotion,
      fitStamp: string,
      result: CarriedResult,
    ): Promise<void> => {
      const stamp = stampOf(motion.stamp, fitStamp);
      const at = new Date();
      const isKept = await keepCarried({ characterId: rider.id, motionKey: motion.key, stamp, author, at, result });
      if (!isKept) gone.add(rider.name);
      else if (result.problem) failed++;
      done++;
    };
    const recipes = new Map(motions.map((motion) => [motion.key, oncePerDefinition(motion)]));
    for (const chunk of chunksOf(riders)) {
      const made = new Map(
        (
          await listStamps(
            chunk.map(({ id }) => id),
            motionKeys,
            createdAt,
          )
        ).map((cell) => [`${cell.characterId} ${cell.motionKey}`, cell]),
      );
      const isMade = ({ id, fitStamp }: Rider, { key, stamp }: KeyedMotion): boolean =>
        made.get(`${id} ${key}`)?.stamp === stampOf(stamp, fitStamp);
      let passengers: BoardedCharacter[] | null = null;
      for (const motion of motions) {
        signal.throwIfAborted();
        const wanted = chunk.filter((rider) => !isMade(rider, motion));
        for (const { id } of chunk.filter((rider) => isMade(rider, motion))) {
          if (made.get(`${id} ${motion.key}`)?.isFailed) failed++;
          done++;
        }
        if (wanted.length === 0) continue;
        report({ share: done / total, stage: `${motion.name}: ${wanted[0].name}` });
        passengers ??= await boardAll(chunk, motions, take, gone);
        const aboard = passengers.filter(({ id }) => wanted.some((rider) => rider.id === id));
        const recipeFor = recipes.get(motion.key) as KeyedMotion['recipe'];
        const results = await carryChunk(motion, recipeFor, aboard, signal);
        for (const [at, result] of results.entries()) await take(aboard[at], motion, aboard[at].fitStamp, result);
        report({ share: Math.min(1, done / total), stage: `${motion.name}: ${wanted[wanted.length - 1].name}` });
        await letOthersGo();
      }
    }
    return { cells: total, failed, gone: [...gone] };
  },
};

async function motionsOf(keys: readonly string[]): Promise<KeyedMotion[]> {
  const found: KeyedMotion[] = [];
  for (const key of keys) {
    const motion = await keyedMotion(key);
    if (motion) found.push(motion);
  }
  return found;
}

/** Reads characters of one definition; those that nothing can be carried to have their cells at once. */
async function boardAll(
  chunk: readonly Rider[],
  motions: readonly KeyedMotion[],
  take: (rider: Rider, motion: KeyedMotion, fitStamp: string, result: CarriedResult) => Promise<void>,
  gone: Set<string>,
): Promise<BoardedCharacter[]> {
  const passengers: BoardedCharacter[] = [];
  for (const rider of chunk) {
    try {
      passengers.push(await boarded(rider.id));
    } catch (error) {
      const problem = problemOf(error, rider.name);
      if (problem.code === 'not-found') gone.add(rider.name);
      else for (const motion of motions) await take(rider, motion, rider.fitStamp, { ...NOTHING, problem });
    }
  }
  return passengers;
}

async function carryChunk(
  { key, name, travel }: KeyedMotion,
  recipeFor: KeyedMotion['recipe'],
  chunk: readonly BoardedCharacter[],
  signal: AbortSignal,
): Promise<CarriedResult[]> {
  if (chunk.length === 0) return [];
  try {
    const recipe = await recipeFor(chunk[0].target.definition);
    const passengers = await Promise.all(
      chunk.map(async ({ id, target, carrying, soles, geometryHash, limits }) => ({
        ...{ id, target, carrying: forMotion(carrying, key), soles, limits },
        geometry: geometryHash === null ? null : await getBlob(geometryHash),
      })),
    );
    const { frames, framesPerSecond, cells, drilled } = await runCarry({ recipe, travel, passengers }, name, signal);
    return cells.map((cell, at) => resultOf(cell, frames, framesPerSecond, drilled[at]));
  } catch (error) {
    signal.throwIfAborted();
    const problem = problemOf(error, name);
    return chunk.map(() => ({ ...NOTHING, problem }));
  }
}

const resultOf = (
  cell: CarriedCell,
  frames: number,
  framesPerSecond: number,
  drilled: CarriedResult['drilled'],
): CarriedResult => ({
  drilled,
  frames,
  framesPerSecond,
  sharesWith: cell.ok ? cell.sharesWith : null,
  differsDeg: cell.ok ? cell.differsDeg : null,
  problem: cell.ok ? null : cell.problem,
});

const NOTHING = { frames: 0, framesPerSecond: 0, sharesWith: null, differsDeg: null, drilled: null };

/** A worker is given one motion with some characters at a time, all of one definition: the motion is told against it. */
function chunksOf(riders: readonly Rider[]): Rider[][] {
  const chunks: Rider[][] = [];
  for (const rider of riders) {
    const last = chunks.at(-1);
    if (last && last.length < AT_ONCE && last[0].definition === rider.definition) last.push(rider);
    else chunks.push([rider]);
  }
  return chunks;
}
