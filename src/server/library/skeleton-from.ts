import { NO_DECISIONS } from '@/core/intake/decisions';
import { skeletonOf } from '@/core/plan/skeleton-of';
import type { ShippedSkeleton } from '@/core/profile/profile';
import type { ArrivedFile } from '../uploads/arrived-file';
import { runIntake, runListContents } from '../work/pool';
import { newest } from './library';
import { STUDIO, studioDialect } from './studio';

/** The skeleton of the first model among some files, read in a worker; nothing is kept. @throws {YarvoError} */
export async function skeletonFrom(
  files: readonly ArrivedFile[],
  definitionId: string = STUDIO.definition,
  signal?: AbortSignal,
): Promise<ShippedSkeleton> {
  const [definition, dialect] = await Promise.all([newest('definition', definitionId), studioDialect()]);
  const sources = await Promise.all(files.map(async ({ path, bytes }) => ({ path, bytes: await bytes() })));
  const place = sources[0].path;
  const { models } = await runListContents(sources, place, signal);
  const main = models[0] ?? place;
  const read = await runIntake({ main, files: sources, decisions: NO_DECISIONS, definition, dialect }, signal);
  const label = (main.split('/').at(-1) ?? main).replace(/\.[^.]+$/, '') || main;
  return skeletonOf(label, read, definition, main);
}
