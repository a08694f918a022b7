import { startByteBudget } from '@/core/errors/byte-budget';
import { problemOf, YarvoError, type Problem } from '@/core/errors/yarvo-error';
import { decodeMotion } from '@/core/motion/motion-file';
import { makeAndCarry, type CarriedMany, type CarryManyInput } from '@/pipeline/carry-many';
import { writeMotionFiles, type MotionFiles, type MotionFilesInput } from '@/pipeline/motion-files';
import { matchReading, type MatchInput, type MatchReport } from '@/pipeline/match';
import { companionsOf, interpret, type Companions, type Interpretation, type InterpretInput } from '@/pipeline/read';
import { readGlb } from '@/pipeline/read-files';
import { repairMovement, type Movement, type MovementInput } from '@/pipeline/repair-movement';
import { buildPack, type Pack, type PackInput } from '@/pipeline/write';
import type { SourceFile } from '@/formats/files/companions';
import { modelsOf, unpackAll } from '@/formats/source/open-source';

export type Envelope<Value> =
  | { readonly ok: true; readonly value: Value }
  /** `stack`: of a failure that nobody expected, for the log. */
  | { readonly ok: false; readonly problem: Problem; readonly stack?: string };

export interface IntakeTask extends InterpretInput, Omit<MatchInput, 'rig' | 'decisions' | 'tracks'> {}

export interface IntakeResult extends Interpretation, MatchReport {}

/** Reads and matches untrusted files under a set of decisions; runs in a worker with limits. */
export async function intake({ definition, dialect, ...task }: IntakeTask): Promise<Envelope<IntakeResult>> {
  return enveloped(task.main, async () => {
    const interpretation = await interpret(task);
    const { rig, tracks } = interpretation;
    return { ...interpretation, ...matchReading({ rig, tracks, decisions: task.decisions, definition, dialect }) };
  });
}

/** Matches a reading that is kept. */
export const match = (input: MatchInput): Promise<Envelope<MatchReport>> =>
  enveloped(input.definition.label, async () => matchReading(input));

/** Geometry and motion of a reading that was kept without them. */
export async function companions({
  canonical,
  place,
}: {
  canonical: Uint8Array;
  place: string;
}): Promise<Envelope<Companions>> {
  return enveloped(place, async () => {
    const { document, rig } = await readGlb(canonical, place);
    return companionsOf(document, rig, place);
  });
}

/** What an upload holds. */
export interface Contents {
  /** Paths of the models, zips unpacked; the only file's own path where none looks like a model. */
  readonly models: readonly string[];
  readonly fileCount: number;
}

/** Lists the models of an upload; zips are unpacked here, under the worker's limits. */
export async function listContents({
  files,
  place,
}: {
  files: readonly SourceFile[];
  place: string;
}): Promise<Envelope<Contents>> {
  return enveloped(place, async () => {
    const unpacked = unpackAll(files);
    const models = modelsOf(unpacked).map((file) => file.path);
    return {
      models: models.length === 0 && unpacked.length === 1 ? [unpacked[0].path] : models,
      fileCount: unpacked.length,
    };
  });
}

/** What a motion file says of its length. */
export interface MotionFacts {
  readonly frameCount: number;
  readonly framesPerSecond: number;
}

/** Decodes a motion file of a stranger's, whole. */
export const inspectMotion = ({ bytes, place }: { bytes: Uint8Array; place: string }): Promise<Envelope<MotionFacts>> =>
  enveloped(place, async () => {
    const { frameCount, framesPerSecond } = decodeMotion(bytes, place);
    return { frameCount, framesPerSecond };
  });

/** Writes, reads back and packs a character. */
export async function handoff(input: PackInput): Promise<Envelope<Pack>> {
  return enveloped(input.character, () => buildPack(input));
}

/** Makes a motion and carries it to characters. */
export const carryToMany = (input: CarryManyInput): Promise<Envelope<CarriedMany>> =>
  enveloped('motion', async () => makeAndCarry(input));

/** How far vertices go by a change of a fit. */
export const movement = (input: MovementInput): Promise<Envelope<Movement | null>> =>
  enveloped('repair', async () => repairMovement(input));

/** Writes a motion for characters as files. */
export const writeMotions = (input: MotionFilesInput): Promise<Envelope<MotionFiles>> =>
  enveloped('motion', () => writeMotionFiles(input));

const MEGABYTE = 1024 * 1024;
const DEFAULT_MEGABYTES = 1024;

async function enveloped<Value>(place: string, work: () => Promise<Value>): Promise<Envelope<Value>> {
  startByteBudget(Number(process.env.YARVO_WORKER_MEMORY_MB ?? DEFAULT_MEGABYTES) * MEGABYTE);
  try {
    return { ok: true, value: await work() };
  } catch (error) {
    const stack = error instanceof Error && !(error instanceof YarvoError) ? error.stack : undefined;
    return { ok: false, problem: problemOf(error, place), stack };
  }
}
