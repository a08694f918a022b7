import path from 'node:path';
import { YarvoError } from '@/core/errors/yarvo-error';
import type { CarriedMany, CarryManyInput } from '@/pipeline/carry-many';
import type { MotionFiles, MotionFilesInput } from '@/pipeline/motion-files';
import type { MatchInput, MatchReport } from '@/pipeline/match';
import type { Companions } from '@/pipeline/read';
import type { Movement, MovementInput } from '@/pipeline/repair-movement';
import type { Pack, PackInput } from '@/pipeline/write';
import type { SourceFile } from '@/formats/files/companions';
import type { WorkOrder } from '@/workers/server/main';
import type { Contents, Envelope, IntakeResult, IntakeTask, MotionFacts } from '@/workers/server/tasks';
import { knowHash } from '../blobs/blob-store';
import { readConfig } from '../settings/config';
import { log } from '../log/logger';
import { stopJudge } from './judge-thread';
import { ProcessPool, WorkError } from './process-pool';

const HOLDER = globalThis as { yarvoPool?: ProcessPool };
const NEVER = new AbortController().signal;
/** Files waiting for a worker; beyond this a caller is told to come back. */
const MAX_QUEUE = 64;
const MAX_WORKERS = 2;
const IDLE_MS = 30_000;

function pool(): ProcessPool {
  const { folder, memoryMegabytes, timeoutMs } = readConfig().workers;
  HOLDER.yarvoPool ??= new ProcessPool({
    entry: path.join(folder, 'main.mjs'),
    mostWorkers: MAX_WORKERS,
    mostWaiting: MAX_QUEUE,
    memoryMegabytes,
    idleMs: IDLE_MS,
    timeoutMs,
    onBytes: knowHash,
  });
  return HOLDER.yarvoPool;
}

export type { IntakeResult } from '@/workers/server/tasks';

/** Reads and matches a character's files in a worker. @throws {YarvoError} */
export const runIntake = (task: IntakeTask, signal?: AbortSignal): Promise<IntakeResult> =>
  run<IntakeResult>({ name: 'intake', task }, task.main, signal);

/** Matches a kept reading in a worker. @throws {YarvoError} */
export const runMatch = (task: MatchInput): Promise<MatchReport> =>
  run<MatchReport>({ name: 'match', task }, task.definition.label);

/** Geometry and motion of a kept reading, made in a worker. @throws {YarvoError} */
export const runCompanions = (canonical: Uint8Array, place: string): Promise<Companions> =>
  run<Companions>({ name: 'companions', task: { canonical, place } }, place);

/** Lists the models of an upload in a worker. @throws {YarvoError} */
export const runListContents = (files: readonly SourceFile[], place: string, signal?: AbortSignal): Promise<Contents> =>
  run<Contents>({ name: 'listContents', task: { files, place } }, place, signal);

/** Builds a pack in a worker. @throws {YarvoError} */
export const runHandoff = (input: PackInput): Promise<Pack> =>
  run<Pack>({ name: 'handoff', task: input }, input.character);

/** Reads a motion file in a worker. @throws {YarvoError} `bad-motion-file` */
export const runInspectMotion = (bytes: Uint8Array, place: string, signal?: AbortSignal): Promise<MotionFacts> =>
  run<MotionFacts>({ name: 'inspectMotion', task: { bytes, place } }, place, signal);

/** Makes a motion and carries it to characters in a worker. @throws {YarvoError} */
export const runCarry = (input: CarryManyInput, place: string, signal?: AbortSignal): Promise<CarriedMany> =>
  run<CarriedMany>({ name: 'carryToMany', task: input }, place, signal);

/** Works out in a worker how far vertices go by a change of a fit. @throws {YarvoError} */
export const runMovement = (input: MovementInput, place: string): Promise<Movement | null> =>
  run<Movement | null>({ name: 'movement', task: input }, place);

/** Writes a motion for characters as files in a worker. @throws {YarvoError} */
export const runWriteMotions = (input: MotionFilesInput, place: string, signal?: AbortSignal): Promise<MotionFiles> =>
  run<MotionFiles>({ name: 'writeMotions', task: input }, place, signal);

/** @param sender ends the work, in the middle of it if need be. */
async function run<Value>(order: WorkOrder, place: string, sender?: AbortSignal): Promise<Value> {
  const { timeoutMs, memoryMegabytes } = readConfig().workers;
  let envelope: Envelope<Value>;
  try {
    envelope = (await pool().run(order, sender ?? NEVER)) as Envelope<Value>;
  } catch (error) {
    sender?.throwIfAborted();
    if (!(error instanceof WorkError)) throw error;
    if (error.code === 'too-slow') throw tooSlow(place, timeoutMs);
    throw workerProblem(error, place, memoryMegabytes);
  }
  if (envelope.ok) return envelope.value;
  if (envelope.problem.code === 'unexpected') {
    log().error({ place, problem: envelope.problem, stack: envelope.stack }, 'a worker failed');
    throw unexpected(place);
  }
  throw new YarvoError(envelope.problem);
}

const tooSlow = (place: string, timeoutMs: number): YarvoError =>
  new YarvoError({
    code: 'too-slow',
    message: `The file was not done after ${timeoutMs / 1000} s, so it was given up.`,
    place,
    remedy: 'Reduce the file, or raise YARVO_WORKER_TIMEOUT_MS.',
  });

const tooMuchMemory = (place: string, memoryMegabytes: number): YarvoError =>
  new YarvoError({
    code: 'too-much-memory',
    message: `The file needs more than ${memoryMegabytes} MB to read.`,
    place,
    remedy: 'Reduce the file, or raise YARVO_WORKER_MEMORY_MB.',
  });

const unexpected = (place: string): YarvoError =>
  new YarvoError({
    code: 'worker-failed',
    message: 'Reading it failed because of a fault in Yarvo.',
    place,
    remedy: 'Try again; if it returns, look the id up in the log and keep the file.',
  });

function workerProblem(error: WorkError, place: string, memoryMegabytes: number): YarvoError {
  if (error.code === 'too-much-memory') return tooMuchMemory(place, memoryMegabytes);
  if (error.code === 'queue-full') {
    return new YarvoError({
      code: 'queue-full',
      message: `${MAX_QUEUE} files are waiting already.`,
      place,
      remedy: 'Wait until some are done and try again.',
    });
  }
  log().error({ place, err: error }, 'a worker ended');
  return unexpected(place);
}

export async function closePool(): Promise<void> {
  stopJudge();
  HOLDER.yarvoPool?.destroy();
  HOLDER.yarvoPool = undefined;
}
