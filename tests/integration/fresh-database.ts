import { afterAll, beforeAll, beforeEach } from 'vitest';
import { closeDatabase } from '@/server/database/connection';
import { migrate } from '@/server/database/migrate';
import { seedLibrary } from '@/server/library/studio';
import { models } from '@/server/database/models';
import { jobRunner } from '@/server/upkeep/start-jobs';
import { closePool } from '@/server/work/pool';

/** Migrated once, emptied before each test. */
export function withFreshDatabase({ withRunner = true }: { withRunner?: boolean } = {}): void {
  beforeAll(async () => {
    await migrate();
    await seedLibrary();
    if (withRunner) jobRunner().start();
  });
  beforeEach(async () => {
    const { Job, Handoff, FitChange, Fit, Character, Upload, BlobChunk, Blob, Motion, MotionOut, MotionName } =
      models();
    await Job.destroy({ where: {} });
    await Handoff.destroy({ where: {} });
    await FitChange.destroy({ where: {} });
    await Fit.destroy({ where: {} });
    await Character.destroy({ where: {} });
    await Upload.destroy({ where: {} });
    await Motion.destroy({ where: {} });
    await MotionOut.destroy({ where: {} });
    await MotionName.destroy({ where: {} });
    await BlobChunk.destroy({ where: {} });
    await Blob.destroy({ where: {} });
  });
  afterAll(async () => {
    if (withRunner) await jobRunner().stop();
    await closePool();
    await closeDatabase();
  });
}

export async function countRows(): Promise<Record<string, number>> {
  const { Character, Fit, FitChange, Blob, BlobChunk, Handoff } = models();
  return {
    characters: await Character.count(),
    fits: await Fit.count(),
    changes: await FitChange.count(),
    blobs: await Blob.count(),
    chunks: await BlobChunk.count(),
    handoffs: await Handoff.count(),
  };
}
