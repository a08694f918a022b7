import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { startPrivateDatabase } from '@/server/database/private-server';
import { buildWorkers } from '@/server/work/build-workers';

/** A real MariaDB for all integration tests, in a folder that goes with them. */
export default async function setup(): Promise<() => Promise<void>> {
  const folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-test-'));
  const root = path.resolve(import.meta.dirname, '../..');
  const workers = path.join(root, '.cache/test-workers');
  await buildWorkers(root, workers);
  const database = await startPrivateDatabase(folder);
  Object.assign(process.env, {
    YARVO_DB_PORT: String(database.port),
    YARVO_DB_PASSWORD: database.password,
    YARVO_WORKERS: workers,
    YARVO_LOG_LEVEL: process.env.YARVO_LOG_LEVEL ?? 'silent',
  });
  return async () => {
    await database.stop();
    await rm(folder, { recursive: true, force: true });
  };
}
