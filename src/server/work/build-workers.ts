import path from 'node:path';
import { build } from 'esbuild';

/** Bundles the entries that are loaded by file, outside the framework's bundles: workers and the web server. */
export async function buildWorkers(root: string, folder: string): Promise<void> {
  await build({
    entryPoints: ['src/workers/server/main.ts', 'src/workers/server/judge.ts', 'src/cli/web.ts'].map((entry) =>
      path.join(root, entry),
    ),
    entryNames: '[name]',
    outdir: folder,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    alias: { '@': path.join(root, 'src') },
    // Resolved from the project's own node_modules at run time; it reads files beside itself.
    external: ['gltf-validator', 'sharp', 'draco3dgltf', 'next', 'pino'],
    banner: {
      js: "import { createRequire as makeRequire } from 'node:module'; const require = makeRequire(import.meta.url);",
    },
    logLevel: 'warning',
  });
}
