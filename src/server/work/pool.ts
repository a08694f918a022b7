import path from 'node:path';
import Piscina from 'piscina';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { Pack, PackInput } from '@/formats/pack/build-pack';
import type { SourceFile } from '@/formats/source/companions';
import type { Contents, Envelope, IntakeResult, IntakeTask } from '@/workers/server/tasks';
import { readConfig } from '../config';

const HOLDER = globalThis as { yarvoPool?: Piscina };
/** Files waiting for a worker; beyond this a caller is told to come back. */
const MAX_QUEUE = 64;

function pool(): Piscina {
  if (!HOLDER.yarvoPool) {
    const { folder, memoryMegabytes } = readConfig().workers;
    HOLDER.yarvoPool = new Piscina({
      filename: path.join(folder, 'tasks.mjs'),
      minThreads: 0,
      maxThreads: 2,
      idleTimeout: 30_000,
      maxQueue: MAX_QUEUE,
      resourceLimits: { maxOldGenerationSizeMb: memoryMegabytes },
    });
  }
  return HOLDER.yarvoPool;
}

export type { IntakeResult } from '@/workers/server/tasks';

/** Reads and matches a character's files in a worker. @throws {YarvoError} */
export const runIntake = (task: IntakeTask): Promise<IntakeResult> => run<IntakeResult>('intake', task, task.main);

/** Lists the models of an upload in a worker. @throws {YarvoError} */
export const runListContents = (files: readonly SourceFile[], place: string): Promise<Contents> => run<Contents>('listContents', { files, place }, place);

/** Builds a pack in a worker. @throws {YarvoError} */
export const runHandoff = (input: PackInput): Promise<Pack> => run<Pack>('handoff', input, input.character);

async function run<Value>(name: 'intake' | 'listContents' | 'handoff', task: object, place: string): Promise<Value> {
  const { timeoutMs, memoryMegabytes } = readConfig().workers;
  const signal = AbortSignal.timeout(timeoutMs);
  let envelope: Envelope<Value>;
  try {
    envelope = (await pool().run(task, { name, signal })) as Envelope<Value>;
  } catch (error) {
    throw workerProblem(error as Error & { code?: string }, place, signal.aborted ? timeoutMs : null, memoryMegabytes);
  }
  if (!envelope.ok) throw new YarvoError(envelope.problem);
  return envelope.value;
}

function workerProblem(error: Error & { code?: string }, place: string, timeoutMs: number | null, memoryMegabytes: number): YarvoError {
  if (timeoutMs !== null) {
    return new YarvoError({ code: 'too-slow', message: `The file was not done after ${timeoutMs / 1000} s, so it was given up.`, place, remedy: 'Reduce the file, or raise YARVO_WORKER_TIMEOUT_MS.' });
  }
  if (error.code === 'ERR_WORKER_OUT_OF_MEMORY') {
    return new YarvoError({ code: 'too-much-memory', message: `The file needs more than ${memoryMegabytes} MB to read.`, place, remedy: 'Reduce the file, or raise YARVO_WORKER_MEMORY_MB.' });
  }
  if (/queue/i.test(error.message)) {
    return new YarvoError({ code: 'queue-full', message: `${MAX_QUEUE} files are waiting already.`, place, remedy: 'Wait until some are done and try again.' });
  }
  return new YarvoError({ code: 'worker-failed', message: `Reading ended unexpectedly: ${error.message}.`, place, remedy: 'Try again; if it returns, the file triggers a fault in Yarvo.' });
}

export async function closePool(): Promise<void> {
  await HOLDER.yarvoPool?.destroy();
  HOLDER.yarvoPool = undefined;
}
