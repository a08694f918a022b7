import { readdir, readFile, stat } from 'node:fs/promises';
import path from 'node:path';
import { runFirstPass } from '@/pipeline/match';
import { buildInspection, exitCodeOf } from '@/pipeline/inspect';
import type { Inspection, Unreadable } from '@/contract/inspection';
import { problemOf, YarvoError } from '@/core/errors/yarvo-error';
import { isCompanion } from '@/core/intake/file-names';
import { MAX_FILE_BYTES } from '@/formats/gltf/glb-container';
import type { SourceFile } from '@/formats/files/companions';
import { modelsOf, onlyModel, unpackAll } from '@/formats/source/open-source';
import { motionOf, readSource } from '@/pipeline/read-files';
import { loadYardsticks, type Yardsticks } from './yardsticks';
import { isZip } from '@/formats/source/source-format';

export interface InspectOptions {
  readonly files: readonly string[];
  readonly json: boolean;
  readonly write: (text: string) => void;
  /** Ids of shipped ones, or JSON files; the studio's own by default. */
  readonly definition?: string;
  readonly profile?: string;
}

/** Inspects files one after another and prints a line for each model as soon as it is known. @returns the exit code. */
export async function inspect({ files, json, write, definition, profile }: InspectOptions): Promise<0 | 1 | 2> {
  const yardsticks = await loadYardsticks(definition, profile);
  const lines: (Inspection | Unreadable)[] = [];
  for (const file of files) {
    for await (const line of inspectFile(file, yardsticks)) {
      lines.push(line);
      write(json ? `${JSON.stringify(line)}\n` : describe(line));
    }
  }
  return exitCodeOf(lines);
}

/** One line per model: a zip may hold several, each named "pack.zip/model.fbx". */
async function* inspectFile(file: string, yardsticks: Yardsticks): AsyncGenerator<Inspection | Unreadable> {
  let models: { main: SourceFile; set: readonly SourceFile[] }[];
  try {
    const given: SourceFile = { path: file, bytes: await load(file) };
    if (isZip(given.bytes)) {
      const set = unpackAll([given]);
      const found = modelsOf(set);
      models = (found.length > 0 ? found : [onlyModel(set, file)]).map((main) => ({ main, set }));
    } else models = [{ main: given, set: [given, ...(await filesBeside(file))] }];
  } catch (error) {
    yield { file, error: problemOf(error, file) };
    return;
  }
  for (const { main, set } of models)
    yield inspectModel(main.path === file ? file : `${file}/${main.path}`, main, set, yardsticks);
}

async function inspectModel(
  label: string,
  main: SourceFile,
  set: readonly SourceFile[],
  { definition, profile }: Yardsticks,
): Promise<Inspection | Unreadable> {
  try {
    const start = performance.now();
    const reading = await readSource(main, set);
    const { rig } = reading;
    const read = performance.now();
    const first = runFirstPass(rig, definition, { motion: motionOf(reading) });
    const match = performance.now();
    const ms = { read: Math.round((read - start) * 10) / 10, match: Math.round((match - read) * 10) / 10 };
    return buildInspection(label, rig, first, definition, profile, ms);
  } catch (error) {
    return { file: label, error: problemOf(error, label) };
  }
}

/** Most that is read from beside a file, bytes. */
const BESIDE_LIMIT = 256 * 1024 * 1024;

/** Buffers and textures in the file's folder and the folders in it; what a dropped folder would bring along. */
async function filesBeside(file: string): Promise<SourceFile[]> {
  if (!/\.(gltf|fbx|dae)$/i.test(file)) return [];
  const folder = path.dirname(file);
  const found: SourceFile[] = [];
  let total = 0;
  for (const place of [
    '.',
    ...(await readdir(folder, { withFileTypes: true }))
      .filter((entry) => entry.isDirectory())
      .map((entry) => entry.name),
  ]) {
    for (const entry of await readdir(path.join(folder, place), { withFileTypes: true }).catch(() => [])) {
      if (!entry.isFile() || !isCompanion(entry.name)) continue;
      const at = path.join(folder, place, entry.name);
      total += (await stat(at)).size;
      if (total > BESIDE_LIMIT) return found;
      found.push({ path: at, bytes: new Uint8Array(await readFile(at)) });
    }
  }
  return found;
}

async function load(file: string): Promise<Uint8Array> {
  try {
    const { size } = await stat(file);
    if (size > MAX_FILE_BYTES) {
      throw new YarvoError({
        code: 'too-large',
        message: `The file has ${size} bytes; ${MAX_FILE_BYTES} is the limit.`,
        place: file,
        remedy: 'Reduce its textures or split it.',
      });
    }
    return new Uint8Array(await readFile(file));
  } catch (error) {
    if (error instanceof YarvoError) throw error;
    throw new YarvoError({
      code: 'cannot-open',
      message: `The file cannot be opened: ${(error as Error).message}.`,
      place: file,
      remedy: 'Check the path and the permissions.',
    });
  }
}

function describe(line: Inspection | Unreadable): string {
  if ('error' in line) return `${line.file}: ${line.error.message} (${line.error.place}) ${line.error.remedy}\n`;
  const assigned = Object.values(line.assignments);
  const doubts = assigned.filter((entry) => entry.state === 'doubtful').length;
  const head = `${line.file}: ${line.humanoid.verdict ? 'humanoid' : `not a humanoid (${line.humanoid.reasons[0]})`}, ${line.source.bones} bones, ${assigned.length} roles, ${doubts} doubtful, ${line.posture.class === 'other' ? 'other pose' : `${line.posture.class}-pose`}`;
  return [head, ...line.findings.map((finding) => `  ${finding.severity}: ${finding.sentence}`), ''].join('\n');
}
