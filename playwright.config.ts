import os from 'node:os';
import path from 'node:path';
import { defineConfig } from '@playwright/test';

const PORT = 4397;
const DATA = path.join(os.tmpdir(), `yarvo-e2e-${process.getuid?.() ?? 0}`);

const browser = {
  executablePath: '/usr/bin/chromium-headless-shell',
  args: [
    '--no-sandbox',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--no-first-run',
  ],
};

export default defineConfig({
  testDir: 'tests/e2e',
  // Generous: two busy cores that also draw the stage in software take up to three times as long as two idle ones.
  timeout: 180_000,
  expect: { timeout: 30_000 },
  workers: 1,
  retries: 0,
  outputDir: 'test-results/e2e',
  reporter: [['list'], ['json', { outputFile: 'test-results/e2e.json' }]],
  use: {
    baseURL: `http://127.0.0.1:${PORT}`,
    viewport: { width: 1280, height: 800 },
    contextOptions: { reducedMotion: 'reduce' },
  },
  projects: [
    {
      // A browser without WebGL shows the skeleton, and the processor has nothing to draw but lines.
      name: 'rods',
      grepInvert: /@drawn/,
      use: { deviceScaleFactor: 0.25, launchOptions: { ...browser, args: [...browser.args, '--disable-3d-apis'] } },
    },
    {
      // What is about meshes and the graphics card is drawn, by the processor: without smooth edges, and small.
      name: 'drawn',
      grep: /@drawn/,
      use: {
        deviceScaleFactor: 0.5,
        launchOptions: {
          ...browser,
          args: [
            ...browser.args,
            '--use-angle=swiftshader',
            '--enable-unsafe-swiftshader',
            '--webgl-antialiasing-mode=none',
          ],
        },
      },
    },
  ],
  // The real start command, on data of its own: what it installs, migrates, loads and builds is tested with it.
  webServer: {
    command: `./start --port ${PORT} --data ${DATA} --fresh`,
    url: `http://127.0.0.1:${PORT}/api/characters`,
    timeout: 480_000,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 20_000 },
    stdout: 'pipe',
  },
});
