import { readFile, stat } from 'node:fs/promises';
import { runFirstPass } from '@/core/assess/assess';
import { buildInspection, exitCodeOf, type Inspection, type Unreadable } from '@/core/assess/inspection';
import { QUAY } from '@/core/definition/quay';
import { problemOf, YarvoError } from '@/core/errors/yarvo-error';
import { TIDEWATER } from '@/core/profile/profile';
import { MAX_FILE_BYTES } from '@/formats/gltf/glb-container';
import { onlyModel, readSource, unpackAll } from '@/formats/source/read-source';

export interface InspectOptions {
  readonly files: readonly string[];
  readonly json: boolean;
  readonly write: (text: string) => void;
}

/** Inspects files one after another and prints a line for each as soon as it is known. @returns the exit code. */
export async function inspect({ files, json, write }: InspectOptions): Promise<0 | 1 | 2> {
  const lines: (Inspection | Unreadable)[] = [];
  for (const file of files) {
    const line = await inspectFile(file);
    lines.push(line);
    write(json ? `${JSON.stringify(line)}\n` : describe(line));
  }
  return exitCodeOf(lines);
}

export async function inspectFile(file: string): Promise<Inspection | Unreadable> {
  try {
    const bytes = await load(file);
    const start = performance.now();
    const files = unpackAll([{ path: file, bytes }]);
    const { rig } = await readSource(onlyModel(files, file), files);
    const read = performance.now();
    const first = runFirstPass(rig, QUAY);
    const match = performance.now();
    const ms = { read: Math.round((read - start) * 10) / 10, match: Math.round((match - read) * 10) / 10 };
    return buildInspection(file, rig, first, QUAY, TIDEWATER, ms);
  } catch (error) {
    return { file, error: problemOf(error, file) };
  }
}

async function load(file: string): Promise<Uint8Array> {
  try {
    const { size } = await stat(file);
    if (size > MAX_FILE_BYTES) {
      throw new YarvoError({ code: 'too-large', message: `The file has ${size} bytes; ${MAX_FILE_BYTES} is the limit.`, place: file, remedy: 'Reduce its textures or split it.' });
    }
    return new Uint8Array(await readFile(file));
  } catch (error) {
    if (error instanceof YarvoError) throw error;
    throw new YarvoError({ code: 'cannot-open', message: `The file cannot be opened: ${(error as Error).message}.`, place: file, remedy: 'Check the path and the permissions.' });
  }
}

function describe(line: Inspection | Unreadable): string {
  if ('error' in line) return `${line.file}: ${line.error.message} (${line.error.place}) ${line.error.remedy}\n`;
  const assigned = Object.values(line.assignments);
  const doubts = assigned.filter((entry) => entry.state === 'doubtful').length;
  const head = `${line.file}: ${line.humanoid.verdict ? 'humanoid' : `not a humanoid (${line.humanoid.reasons[0]})`}, ${line.source.bones} bones, ${assigned.length} roles, ${doubts} doubtful, ${line.posture.class === 'other' ? 'other pose' : `${line.posture.class}-pose`}`;
  return [head, ...line.findings.map((finding) => `  ${finding.severity}: ${finding.sentence}`), ''].join('\n');
}
