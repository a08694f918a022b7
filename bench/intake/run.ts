import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { DOMParser } from '@xmldom/xmldom';
import { parseBinary, parseText } from 'fbx-parser';
import { BVHLoader } from 'three/addons/loaders/BVHLoader.js';
import { QUAY } from '@/core/definition/quay';
import { runFirstPass } from '@/pipeline/match';
import { NO_DECISIONS } from '@/core/intake/decisions';
import { createNodeIO } from '@/formats/gltf/node-io';
import { interpret } from '@/pipeline/read';
import { CAST } from '../../demo/cast/cast';
import { median } from '../median';

/**
 * `npx tsx --expose-gc bench/intake/run.ts [--write]`: full intake of each demo file (read, interpret, match, portrait
 * aside) against bare parsing of the same bytes by a general library, medians of warm runs in one process.
 */
const RUNS = 15;
const FOLDER = path.resolve(import.meta.dirname, '../../demo/files');
const FILES = [...Object.keys(CAST), 'same-figure/lamplighter-binary.fbx'];

const text = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
const BARE: Readonly<Record<string, { by: string; parse: (bytes: Uint8Array) => unknown }>> = {
  glb: { by: 'gltf-transform', parse: (bytes) => createNodeIO().readBinary(bytes) },
  vrm: { by: 'gltf-transform', parse: (bytes) => createNodeIO().readBinary(bytes) },
  fbx: {
    by: 'fbx-parser',
    parse: (bytes) => (bytes[0] === 0x4b ? parseBinary(Buffer.from(bytes)) : parseText(text(bytes))),
  },
  dae: { by: '@xmldom/xmldom', parse: (bytes) => new DOMParser().parseFromString(text(bytes), 'text/xml') },
  bvh: { by: 'three BVHLoader', parse: (bytes) => new BVHLoader().parse(text(bytes)) },
};

async function time(work: () => unknown): Promise<number> {
  const times: number[] = [];
  for (let run = 0; run < RUNS + 3; run++) {
    const start = performance.now();
    await work();
    if (run >= 3) times.push(performance.now() - start);
  }
  return median(times);
}

async function peakMegabytes(work: () => Promise<unknown>): Promise<number> {
  (globalThis as { gc?: () => void }).gc?.();
  const before = process.memoryUsage();
  let most = 0;
  const watch = setInterval(() => {
    const { heapUsed, arrayBuffers } = process.memoryUsage();
    most = Math.max(most, heapUsed - before.heapUsed + arrayBuffers - before.arrayBuffers);
  }, 1);
  await work();
  clearInterval(watch);
  const { heapUsed, arrayBuffers } = process.memoryUsage();
  return Math.max(most, heapUsed - before.heapUsed + arrayBuffers - before.arrayBuffers) / 1024 / 1024;
}

const rows: string[] = [];
for (const file of FILES) {
  const bytes = new Uint8Array(readFileSync(path.join(FOLDER, file)));
  const bare = BARE[path.extname(file).slice(1)];
  const intake = async () =>
    runFirstPass((await interpret({ files: [{ path: file, bytes }], main: file, decisions: NO_DECISIONS })).rig, QUAY);
  const [bareMs, intakeMs] = [await time(() => bare.parse(bytes)), await time(intake)];
  const row = `| ${file} | ${(bytes.length / 1024).toFixed(0)} KB | ${bare.by} | ${bareMs.toFixed(1)} ms | ${intakeMs.toFixed(1)} ms | ${(intakeMs / bareMs).toFixed(1)} | ${(await peakMegabytes(intake)).toFixed(0)} MB |`;
  rows.push(row);
  process.stdout.write(`${row}\n`);
}
if (process.argv.includes('--write')) {
  writeFileSync(
    path.resolve(import.meta.dirname, '../../docs/intake-report.md'),
    `# Intake benchmarks

Full intake of each demo file (parsing, rig, canonical GLB, first pass of the matcher) against bare parsing of the same
bytes by a general library, which builds no rig and matches nothing. Medians of ${RUNS} warm runs in one process; the
ratio is what counts, the times are of one machine. Memory is the growth of heap and buffers during one intake. Written
by \`npx tsx --expose-gc bench/intake/run.ts --write\`. The aim is a ratio of 2.

| file | size | bare parsing by | bare | full intake | ratio | memory |
|---|---|---|---|---|---|---|
${rows.join('\n')}
`,
  );
}
