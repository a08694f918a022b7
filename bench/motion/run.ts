import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { carry } from '@/cli/carry';
import type { CarryLine, Uncarried } from '@/contract/carry-line';
import { writeCanonical } from '@/formats/source/open-source';
import { readSource } from '@/pipeline/read-files';
import { MODELS } from '../../tests/third-party/catalogue';
import { compareMotions, playBvh, playGlb, type Played } from './judge';
import { measureGrowth, measureSpeed } from './speed';

/**
 * `npx tsx bench/motion/run.ts [--write]`: carries the town's motions and, where Debian's assimp-testmodels are there,
 * motions by other hands to every humanoid of the cast through the command, and holds the written files against their
 * sources with three's loaders; measures the speed. --write puts it into docs/motion-report.md.
 */
const { values } = parseArgs({ options: { write: { type: 'boolean', default: false } } });
const CHARACTERS = [
  'lamplighter.glb',
  'eel-seller.glb',
  'net-mender.glb',
  'harbour-diver.glb',
  'ferry-pilot.fbx',
  'bell-ringer.dae',
  'customs-clerk.vrm',
  'otter-stevedore.glb',
  'clockwork-deckhand.glb',
  'stilt-walker.glb',
].map((name) => `demo/files/${name}`);
const MOMENTS = 30;

interface Case {
  readonly file: string;
  readonly reference: string;
}
const TOWN: readonly Case[] = [
  { file: 'demo/files/lantern-round.bvh', reference: 'frame:0' },
  { file: 'demo/files/net-haul.glb', reference: 'rest' },
  { file: 'demo/files/tide-bell.bvh', reference: 'rest' },
  { file: 'demo/files/stall-keeper.fbx', reference: 'rest' },
  { file: 'demo/files/boat-leap.glb', reference: 'rest' },
  { file: 'demo/files/quay-walk.bvh', reference: 'rest' },
];
const OTHERS: readonly Case[] = ['01_01.bvh', '01_03.bvh', 'Boxing_Toes.bvh']
  .map((name) => ({ file: path.join(MODELS, 'BVH', name), reference: 'rest' }))
  .filter(({ file }) => existsSync(file));

interface Row {
  readonly name: string;
  readonly clip: string;
  readonly frames: number;
  carried: number;
  failed: string[];
  segments: number;
  segmentsDeg: number;
  worst: string;
  turnsDeg: number;
}

/** The source as three plays it; formats that three reads otherwise come as the GLB that Yarvo keeps of them. */
async function sourceOf(file: string, { source, clip }: CarryLine): Promise<Played> {
  const assignments = source?.assignments ?? {};
  const bytes = new Uint8Array(readFileSync(file));
  if (file.endsWith('.bvh')) return playBvh(new TextDecoder().decode(bytes), assignments);
  if (file.endsWith('.glb')) return playGlb(bytes, assignments, clip);
  const { document } = await readSource({ path: file, bytes }, []);
  return playGlb(await writeCanonical(document), assignments, clip);
}

async function judge({ file, reference }: Case, out: string): Promise<Row[]> {
  const lines: (CarryLine | Uncarried)[] = [];
  await carry({
    motion: file,
    characters: CHARACTERS,
    json: true,
    out,
    reference,
    root: 'none',
    write: (text) => lines.push(JSON.parse(text) as CarryLine | Uncarried),
  });
  const rows = new Map<string, Row>();
  for (const line of lines) {
    const clip = line.clip ?? '';
    const frames = 'error' in line ? 0 : line.frames;
    const row = rows.get(clip) ?? {
      name: path.basename(file),
      clip,
      frames,
      carried: 0,
      failed: [],
      segments: 0,
      segmentsDeg: 0,
      worst: '',
      turnsDeg: 0,
    };
    rows.set(clip, row);
    if ('error' in line) {
      row.failed.push(`${line.character}: ${line.error.message}`);
      continue;
    }
    const [source, result] = [
      await sourceOf(file, line),
      await playGlb(new Uint8Array(readFileSync(line.out.glb)), line.assignments),
    ];
    // A reference frame at the start is left out of the result.
    const shift = reference === 'frame:0' ? 1 / line.rate : 0;
    const times = Array.from({ length: MOMENTS }, (_, at) => {
      const seconds = Math.floor((at * (line.frames - 1)) / MOMENTS) / line.rate;
      return { source: seconds + shift, result: seconds };
    });
    const isTold = (role: string) => /Shoulder|^hips$|^head$/.test(role) && role in (line.source?.assignments ?? {});
    const agreement = compareMotions(source, result, times, reference === 'rest' ? isTold : (role) => role === 'hips');
    row.carried++;
    row.segments += agreement.segments;
    if (agreement.segmentsDeg > row.segmentsDeg) {
      row.segmentsDeg = agreement.segmentsDeg;
      row.worst = `${agreement.worstSegment}, ${path.basename(line.character)}`;
    }
    row.turnsDeg = Math.max(row.turnsDeg, agreement.turnsDeg);
  }
  return [...rows.values()];
}

const table = (rows: readonly Row[]): string =>
  [
    '| motion | take | frames | carried to | segments compared | worst segment, degrees | where | worst turn of hips, collars, head, degrees |',
    '| --- | --- | --- | --- | --- | --- | --- | --- |',
    ...rows.map(
      ({ name, clip, frames, carried, segments, segmentsDeg, worst, turnsDeg }) =>
        `| ${name} | ${clip} | ${frames} | ${carried} of ${CHARACTERS.length} | ${segments} | ${segmentsDeg.toFixed(4)} | ${worst} | ${turnsDeg.toFixed(4)} |`,
    ),
  ].join('\n');

async function main(): Promise<void> {
  const out = mkdtempSync(path.join(tmpdir(), 'yarvo-motion-'));
  try {
    const [town, others]: [Row[], Row[]] = [[], []];
    for (const each of TOWN) town.push(...(await judge(each, out)));
    for (const each of OTHERS) others.push(...(await judge(each, out)));
    const speed = await measureSpeed();
    const growth = await measureGrowth([1_000, 10_000, 100_000]);
    const ours = speed.captureMs + speed.carryMs;
    const text = `# Motion, carried

Made by \`npx tsx bench/motion/run.ts --write\`. Each motion is carried by the command to the ten humanoids of the cast; the
written GLB and the source are played by three's own loaders at ${MOMENTS} moments, each in its own body frame.

## The town's motions

${table(town)}

## Motions by other hands (Debian's assimp-testmodels)

${others.length > 0 ? table(others) : 'Not there on the machine that made this.'}

## Speed

One minute at 60 frames a second, ${speed.bones} bones with full hands, ${speed.frames.toLocaleString('en')} frames, the quickest of several counts in one run.

| | milliseconds | largest error, degrees |
| --- | --- | --- |
| read into role space | ${speed.captureMs.toFixed(1)} | |
| carried to a character | ${speed.carryMs.toFixed(1)} | ${speed.ourErrorDeg.toFixed(4)} |
| three's \`SkeletonUtils.retargetClip\`, same rigs and clip | ${speed.threeMs.toFixed(1)} | ${speed.threeErrorDeg.toFixed(1)} |
| a bare loop of ${speed.products} quaternion products a bone and frame | ${speed.bareMs.toFixed(1)} | |

Against three: **${(speed.threeMs / ours).toFixed(1)} times as fast**. Against the bare loop: **${(ours / speed.bareMs).toFixed(2)} times its time**.
The error is to the motion that both rigs were built to; three's function knows no rest pose but the bones' own.

| frames | nanoseconds a frame and bone | bytes of arrays a frame |
| --- | --- | --- |
${growth.map(({ frames, nanoseconds, bytesPerFrame }) => `| ${frames.toLocaleString('en')} | ${nanoseconds.toFixed(0)} | ${bytesPerFrame} |`).join('\n')}
`;
    process.stdout.write(text);
    for (const { name, failed } of [...town, ...others])
      for (const each of failed) process.stdout.write(`failed: ${name} on ${each}\n`);
    if (values.write) writeFileSync('docs/motion-report.md', text);
  } finally {
    rmSync(out, { recursive: true, force: true });
  }
}

void main();
