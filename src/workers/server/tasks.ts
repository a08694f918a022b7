import { runFirstPass, type FirstPass } from '@/core/assess/assess';
import { QUAY } from '@/core/definition/quay';
import { problemOf, type Problem } from '@/core/errors/yarvo-error';
import { drawPortrait } from '@/core/portrait/portrait';
import { interpret, type Interpretation, type InterpretInput } from '@/formats/intake/interpret';
import { buildPack, type Pack, type PackInput } from '@/formats/pack/build-pack';
import type { SourceFile } from '@/formats/source/companions';
import { modelsOf, unpackAll } from '@/formats/source/read-source';

export type Envelope<Value> = { readonly ok: true; readonly value: Value } | { readonly ok: false; readonly problem: Problem };

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
    return { ...interpretation, ...first, portrait: drawPortrait(rig, first.normalisation, first.match) };
  });
}

/** What an upload holds. */
export interface Contents {
  /** Paths of the models, zips unpacked; the only file's own path where none looks like a model. */
  readonly models: readonly string[];
  readonly fileCount: number;
}

/** Lists the models of an upload; zips are unpacked here, under the worker's limits. */
export async function listContents({ files, place }: { files: readonly SourceFile[]; place: string }): Promise<Envelope<Contents>> {
  return enveloped(place, async () => {
    const unpacked = unpackAll(files);
    const models = modelsOf(unpacked).map((file) => file.path);
    return { models: models.length === 0 && unpacked.length === 1 ? [unpacked[0].path] : models, fileCount: unpacked.length };
  });
}

/** Writes, reads back and packs a character. */
export async function handoff(input: PackInput): Promise<Envelope<Pack>> {
  return enveloped(input.character, () => buildPack(input));
}

async function enveloped<Value>(place: string, work: () => Promise<Value>): Promise<Envelope<Value>> {
  try {
    return { ok: true, value: await work() };
  } catch (error) {
    return { ok: false, problem: problemOf(error, place) };
  }
}
