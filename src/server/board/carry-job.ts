import { randomUUID } from 'node:crypto';
import { problemOf, type Problem } from '@/core/errors/yarvo-error';
import type { CarriedCell } from '@/core/drill/carry-many';
import { forMotion } from '@/core/motion/carry-options';
import { countText } from '@/core/text/count';
import { getBlob } from '../blobs/blob-store';
import { findCurrentFit } from '../fits/fit-repository';
import type { JobQueue, JobRecord } from '../jobs/job-queue';
import type { JobHandler } from '../jobs/runner';
import { keyedMotion, oncePerDefinition, type KeyedMotion } from '../motions/recipe';
import { runCarry } from '../work/pool';
import { keepCarried, stampOf, type CarriedResult } from './carried-repository';
import { boarded, fitStampOf, type BoardedCharacter } from './passengers';

export interface CarryPayload {
  readonly characterIds: readonly string[];
  readonly motionKeys: readonly string[];
}

/** Characters of one call to a worker: their rigs go along. */
const AT_ONCE = 8;

/** Queues carrying some motions to some characters. */
export function queueCarry(queue: JobQueue, payload: CarryPayload, author: string): Promise<JobRecord> {
  const { characterIds, motionKeys } = payload;
  const label = `${countText(motionKeys.length, 'motion')} to ${countText(characterIds.length, 'character')}`;
  return queue.add({ id: randomUUID(), kind: 'carry', subject: 'board', label, author, payload });
}

/** Each cell is kept as soon as it is done: what a cancel or a crash leaves stays, and the rest is "not yet". */
export const carryHandler: JobHandler = {
  async work({ payload, author, signal, report }) {
    const { characterIds, motionKeys } = payload as CarryPayload;
    const total = Math.max(1, characterIds.length * motionKeys.length);
    let [done, failed] = [0, 0];
    report({ share: 0, stage: 'Reading the characters' });
    const { passengers, refused, gone } = await boardAll(characterIds);
    failed += (refused.length + gone) * motionKeys.length;
    for (const key of motionKeys) {
      const motion = await keyedMotion(key);
      if (!motion) {
        failed += passengers.length;
        done += characterIds.length;
        continue;
      }
      const keep = ({ id: characterId, fitStamp }: Stamped, result: CarriedResult): Promise<void> =>
        keepCarried({
          characterId,
          motionKey: key,
          stamp: stampOf(motion.stamp, fitStamp),
          author,
          at: new Date(),
          result,
        });
      const recipeFor = oncePerDefinition(motion);
      for (const chunk of chunksOf(passengers)) {
        signal.throwIfAborted();
        report({ share: done / total, stage: `${motion.name}: ${chunk[0].name}` });
        const results = await carryChunk(motion, recipeFor, chunk, signal);
        for (const [at, result] of results.entries()) {
          if (result.problem) failed++;
          await keep(chunk[at], result);
        }
        done += chunk.length;
        report({ share: done / total, stage: `${motion.name}: ${chunk[chunk.length - 1].name}` });
      }
      for (const each of refused) await keep(each, { ...NOTHING, problem: each.problem });
      done += refused.length + gone;
    }
    return { cells: total, failed };
  },
};

async function carryChunk(
  { key, name, travel }: KeyedMotion,
  recipeFor: KeyedMotion['recipe'],
  chunk: readonly BoardedCharacter[],
  signal: AbortSignal,
): Promise<CarriedResult[]> {
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

type Stamped = Pick<BoardedCharacter, 'id' | 'fitStamp'>;

/** A character that nothing can be carried to. */
interface Refused extends Stamped {
  readonly problem: Problem;
}

/** A worker is given one motion with some characters at a time, all of one definition: the motion is told against it. */
function chunksOf(passengers: readonly BoardedCharacter[]): BoardedCharacter[][] {
  const chunks: BoardedCharacter[][] = [];
  for (const passenger of passengers) {
    const last = chunks.at(-1);
    if (last && last.length < AT_ONCE && last[0].target.definition === passenger.target.definition)
      last.push(passenger);
    else chunks.push([passenger]);
  }
  return chunks;
}

/** Characters of one skeleton beside each other, so that they meet in one call. */
async function boardAll(ids: readonly string[]) {
  const passengers: BoardedCharacter[] = [];
  const refused: Refused[] = [];
  for (const id of ids) {
    const fit = await findCurrentFit(id);
    if (!fit) continue;
    try {
      passengers.push(await boarded(id));
    } catch (error) {
      refused.push({ id, fitStamp: fitStampOf(fit), problem: problemOf(error, id) });
    }
  }
  passengers.sort((a, b) => (a.signature < b.signature ? -1 : a.signature > b.signature ? 1 : 0));
  return { passengers, refused, gone: ids.length - passengers.length - refused.length };
}
