import { runFirstPass } from '@/pipeline/match';
import { buildInspection, exitCodeOf } from '@/pipeline/inspect';
import { motionOf } from '@/pipeline/read-files';
import type { Inspection, Unreadable } from '@/contract/inspection';
import { problemOf } from '@/core/errors/yarvo-error';
import { modelsIn, type Model } from './models';
import { loadYardsticks, type Yardsticks } from './yardsticks';

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
    for await (const model of modelsIn(file)) {
      const line = await inspectModel(model, yardsticks);
      lines.push(line);
      write(json ? `${JSON.stringify(line)}\n` : describe(line));
    }
  }
  return exitCodeOf(lines);
}

async function inspectModel(
  { label, read }: Model,
  { definition, profile }: Yardsticks,
): Promise<Inspection | Unreadable> {
  try {
    const start = performance.now();
    const reading = await read();
    const { rig } = reading;
    const ready = performance.now();
    const first = runFirstPass(rig, definition, { motion: motionOf(reading) });
    const match = performance.now();
    const ms = { read: Math.round((ready - start) * 10) / 10, match: Math.round((match - ready) * 10) / 10 };
    return buildInspection(label, rig, first, definition, profile, ms);
  } catch (error) {
    return { file: label, error: problemOf(error, label) };
  }
}

function describe(line: Inspection | Unreadable): string {
  if ('error' in line) return `${line.file}: ${line.error.message} (${line.error.place}) ${line.error.remedy}\n`;
  const assigned = Object.values(line.assignments);
  const doubts = assigned.filter((entry) => entry.state === 'doubtful').length;
  const head = `${line.file}: ${line.humanoid.verdict ? 'humanoid' : `not a humanoid (${line.humanoid.reasons[0]})`}, ${line.source.bones} bones, ${assigned.length} roles, ${doubts} doubtful, ${line.posture.class === 'other' ? 'other pose' : `${line.posture.class}-pose`}`;
  return [head, ...line.findings.map((finding) => `  ${finding.severity}: ${finding.sentence}`), ''].join('\n');
}
