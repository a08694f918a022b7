import { randomUUID } from 'node:crypto';
import { problemOf, type Problem } from '@/core/errors/yarvo-error';
import type { CarriedCell } from '@/core/drill/carry-many';
import { findCurrentFit } from '../fits/fit-repository';
import type { JobQueue, JobRecord } from '../jobs/job-queue';
import type { JobHandler } from '../jobs/runner';
import { keyedMotion } from '../motions/recipe';
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

export const countText = (count: number, what: string): string => `${count} ${what}${count === 1 ? '' : 's'}`;

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
      // Those of one definition together; chunks share the motion, not the worker's time limit.
      for (let from = 0; from < passengers.length; from += AT_ONCE) {
        signal.throwIfAborted();
        const chunk = passengers.slice(from, from + AT_ONCE);
        report({ share: done / total, stage: `${motion.name}: ${chunk[0].name}` });
        const results = await carryChunk(chunk);
        for (const [at, result] of results.entries()) {
          const { id: characterId, fitStamp } = chunk[at];
          if (result.problem) failed++;
          await keepCarried({
            characterId,
            motionKey: key,
            stamp: stampOf(motion.stamp, fitStamp),
            author,
            at: new Date(),
            result,
          });
        }
        done += chunk.length;
        report({ share: done / total, stage: `${motion.name}: ${chunk[chunk.length - 1].name}` });
      }
      for (const { id: characterId, fitStamp, problem } of refused)
        await keepCarried({
          characterId,
          motionKey: key,
          stamp: stampOf(motion.stamp, fitStamp),
          author,
          at: new Date(),
          result: { ...NOTHING, problem },
        });
      done += refused.length + gone;

      async function carryChunk(chunk: readonly BoardedCharacter[]): Promise<CarriedResult[]> {
        const known = motion as NonNullable<typeof motion>;
        try {
          const recipe = await known.recipe(chunk[0].target.definition);
          const { frames, framesPerSecond, cells } = await runCarry(
            {
              recipe,
              travel: known.travel,
              passengers: chunk.map(({ id, target, carrying }) => ({ id, target, carrying })),
            },
            known.name,
            signal,
          );
          return cells.map((cell) => resultOf(cell, frames, framesPerSecond));
        } catch (error) {
          signal.throwIfAborted();
          const problem = problemOf(error, known.name);
          return chunk.map(() => ({ ...NOTHING, problem }));
        }
      }
    }
    return { cells: total, failed };
  },
};

const resultOf = (cell: CarriedCell, frames: number, framesPerSecond: number): CarriedResult => ({
  frames,
  framesPerSecond,
  sharesWith: cell.ok ? cell.sharesWith : null,
  differsDeg: cell.ok ? cell.differsDeg : null,
  problem: cell.ok ? null : cell.problem,
});

const NOTHING = { frames: 0, framesPerSecond: 0, sharesWith: null, differsDeg: null };

/** A character that nothing can be carried to. */
interface Refused {
  readonly id: string;
  readonly fitStamp: string;
  readonly problem: Problem;
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
  const boneNames = ({ target }: BoardedCharacter): string => target.rig.bones.map(({ name }) => name).join('\n');
  const names = new Map(passengers.map((passenger) => [passenger.id, boneNames(passenger)]));
  passengers.sort((a, b) => ((names.get(a.id) ?? '') < (names.get(b.id) ?? '') ? -1 : 1));
  return { passengers, refused, gone: ids.length - passengers.length - refused.length };
}
