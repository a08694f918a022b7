import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { PostureLine, Unposed } from '@/contract/posture-line';
import { problemOf } from '@/core/errors/yarvo-error';
import { assignmentsOf } from '@/pipeline/inspect';
import { posturize } from '@/pipeline/posture';
import { modelsIn } from './models';
import { loadYardsticks } from './yardsticks';

export interface PostureCommand {
  readonly files: readonly string[];
  readonly json: boolean;
  readonly align: boolean;
  readonly from: string;
  /** Folder for the rebuilt files; none are written without. */
  readonly out?: string;
  /** Id of a shipped one, or a JSON file; the studio's own by default. */
  readonly definition?: string;
  readonly write: (text: string) => void;
}

/** Measures, and where asked for aligns and rebuilds, files one after another. @returns the exit code. */
export async function posture(command: PostureCommand): Promise<0 | 2> {
  const { definition } = await loadYardsticks(command.definition);
  if (command.out) await mkdir(command.out, { recursive: true });
  const taken = new Set<string>();
  let code: 0 | 2 = 0;
  for (const file of command.files) {
    for await (const { label, read } of modelsIn(file)) {
      const line = await lineOf(label);
      if ('error' in line) code = 2;
      command.write(command.json ? `${JSON.stringify(line)}\n` : describe(line));

      async function lineOf(of: string): Promise<PostureLine | Unposed> {
        try {
          const result = posturize(await read(), { ...command, definition }, of);
          const out = command.out ? path.join(command.out, freeName(of, taken)) : null;
          if (out) await writeFile(out, await result.write());
          const { before, after } = result;
          return { file: of, out, assignments: assignmentsOf(result.rig, result.match), before, after };
        } catch (error) {
          return { file: of, error: problemOf(error, of) };
        }
      }
    }
  }
  return code;
}

/** The file's own name with .glb, counted where two share one. */
function freeName(label: string, taken: Set<string>): string {
  const stem = path.basename(label).replace(/\.[^.]+$/, '');
  let name = `${stem}.glb`;
  for (let count = 2; taken.has(name.toLowerCase()); count++) name = `${stem}-${count}.glb`;
  taken.add(name.toLowerCase());
  return name;
}

function describe(line: PostureLine | Unposed): string {
  if ('error' in line) return `${line.file}: ${line.error.message} (${line.error.place}) ${line.error.remedy}\n`;
  const worst = (deviations: Readonly<Record<string, number>>) => {
    const [role, angle] = Object.entries(deviations).sort(([, a], [, b]) => b - a)[0] ?? ['none', 0];
    return `${role} ${angle.toFixed(1)} degrees`;
  };
  const { before, after } = line;
  return `${line.file}: ${before.class} to ${after.class}, worst ${worst(before.deviationsDeg)} to ${worst(after.deviationsDeg)}, ${after.heightM.toFixed(2)} m${line.out ? `, written to ${line.out}` : ''}\n`;
}
