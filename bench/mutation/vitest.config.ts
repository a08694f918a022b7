import path from 'node:path';
import { defineConfig } from 'vitest/config';

const root = path.resolve(import.meta.dirname, '../..');

/** The matcher's own quick tests, which every mutant must pass; the whole suite would take a day. */
export default defineConfig({
  root,
  resolve: { alias: { '@': path.resolve(root, 'src') } },
  test: {
    include: ['src/core/match/**/*.test.ts', 'src/core/dialect/**/*.test.ts', 'tests/proof/match-record.test.ts'],
    environment: 'node',
    testTimeout: 60_000,
    isolate: false,
    pool: 'threads',
    maxWorkers: 1,
    setupFiles: [path.resolve(import.meta.dirname, 'runaway-guard.ts')],
  },
});
