import path from 'node:path';
import { problemOf } from '@/core/errors/yarvo-error';
import { skeletonOf } from '@/core/plan/skeleton-of';
import { runFirstPass } from '@/pipeline/match';
import { modelsIn } from './models';
import { loadYardsticks } from './yardsticks';

export interface SkeletonCommand {
  readonly file: string;
  readonly definition?: string;
  readonly write: (text: string) => void;
  readonly complain: (text: string) => void;
}

/** Prints the skeleton of a file as an engine profile holds it. @returns the exit code. */
export async function skeleton({ file, definition: named, write, complain }: SkeletonCommand): Promise<0 | 2> {
  const { definition } = await loadYardsticks(named);
  for await (const { label, read } of modelsIn(file)) {
    try {
      const { rig } = await read();
      const stem = path.basename(label).replace(/\.[^.]+$/, '');
      const found = skeletonOf(stem, { rig, ...runFirstPass(rig, definition) }, definition, label);
      write(`${JSON.stringify(found, null, 2)}\n`);
      return 0;
    } catch (error) {
      const { message, place, remedy } = problemOf(error, label);
      complain(`${message} (${place}) ${remedy}\n`);
    }
  }
  return 2;
}
