import path from 'node:path';
import { defineConfig } from 'vitest/config';

const alias = { '@': path.resolve(import.meta.dirname, 'src') };

export default defineConfig({
  resolve: { alias },
  test: {
    projects: [
      {
        resolve: { alias },
        test: {
          name: 'unit',
          include: [
            'src/**/*.test.ts',
            'demo/**/*.test.ts',
            'bench/**/*.test.ts',
            'tests/proof/**/*.test.ts',
            'tests/third-party/**/*.test.ts',
            'tests/fuzz/**/*.test.ts',
          ],
          environment: 'node',
          // They share nothing that can be changed, so a worker reads each module once for all of them: half the time.
          isolate: false,
          testTimeout: 60_000,
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'integration',
          include: ['tests/integration/**/*.test.ts'],
          environment: 'node',
          globalSetup: ['tests/integration/database-setup.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
          fileParallelism: false,
        },
      },
      {
        // The whole application, started, killed, hung and stopped: it waits more than it works.
        resolve: { alias },
        test: {
          name: 'hardness',
          include: ['tests/hardness/**/*.test.ts'],
          environment: 'node',
          testTimeout: 900_000,
          hookTimeout: 120_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
