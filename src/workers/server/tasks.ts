import { runFirstPass } from '@/pipeline/match';
import type { FirstPass } from '@/core/match/first-pass';
import { QUAY } from '@/core/definition/quay';
import { startByteBudget } from '@/core/errors/byte-budget';
import { problemOf, YarvoError, type Problem } from '@/core/errors/yarvo-error';
import { drawPortrait } from '@/core/portrait/portrait';
import { interpret, type Interpretation, type InterpretInput } from '@/pipeline/read';
import { buildPack, type Pack, type PackInput } from '@/pipeline/write';
import type { SourceFile } from '@/formats/files/companions';
import { modelsOf, unpackAll } from '@/formats/source/open-source';

export type Envelope<Value> =
  | { readonly ok: true; readonly value: Value }
  /** `stack`: of a failure that nobody expected, for the log. */
  | { readonly ok: false; readonly problem: Problem; readonly stack?: string };

export type IntakeTask = InterpretInput;

export interface IntakeResult extends FirstPass, Interpretation {
  readonly portrait: string;
}

/** Reads and matches untrusted files under a set of decisions; runs in a worker with limits. */
export async function intake(task: IntakeTask): Promise<Envelope<IntakeResult>> {
  return enveloped(task.main, async () => {
    const interpretation = await interpret(task);
    const { rig } = interpretation;
    const first = runFirstPass(rig, QUAY, { sideMarks: task.decisions.sideMarks }, task.decisions);
    return { ...interpretation, ...first, portrait: drawPortrait(rig, first.normalisation, first.match, QUAY) };
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

/** Writes, reads back and packs a character. */
export async function handoff(input: PackInput): Promise<Envelope<Pack>> {
  return enveloped(input.character, () => buildPack(input));
}

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
