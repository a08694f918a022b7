import { readFileSync } from 'node:fs';
import path from 'node:path';
import { parseText } from 'fbx-parser';
import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import { readGlb } from '@/pipeline/read-files';
import { readSource } from '@/pipeline/read-files';
import { writeCanonical } from '@/formats/source/open-source';
import { median } from '../median';

const FILE = 'harbour-master.fbx';
const WARM_UP = 40;
const RUNS = 25;

/** Median times, ms, of one file in one warm process. */
export interface Yardstick {
  readonly file: string;
  readonly bones: number;
  /** Reading the file to a rig. */
  readonly parse: number;
  /** Bare parsing of the same text by a general library. */
  readonly bare: number;
  /** Reading the same figure from the binary form that Yarvo keeps to a rig. */
  readonly binary: number;
  readonly match: number;
}

/** Time to match a committed file of 150 bones against the time to parse it. */
export async function measureYardstick(): Promise<Yardstick> {
  const bytes = new Uint8Array(readFileSync(path.resolve(import.meta.dirname, '../../demo/files/yardstick', FILE)));
  const source = { path: FILE, bytes };
  const text = new TextDecoder().decode(bytes);
  const { rig, document } = await readSource(source, [source]);
  const glb = await writeCanonical(document);
  for (let run = 0; run < WARM_UP; run++) matchBones(rig, QUAY);
  const [parses, bares, binaries, matches]: [number[], number[], number[], number[]] = [[], [], [], []];
  for (let run = 0; run < RUNS; run++) {
    const start = performance.now();
    await readSource(source, [source]);
    const read = performance.now();
    parseText(text);
    const parsed = performance.now();
    await readGlb(glb, 'yardstick');
    const again = performance.now();
    matchBones(rig, QUAY);
    parses.push(read - start);
    bares.push(parsed - read);
    binaries.push(again - parsed);
    matches.push(performance.now() - again);
  }
  return {
    file: FILE,
    bones: rig.bones.length,
    parse: median(parses),
    bare: median(bares),
    binary: median(binaries),
    match: median(matches),
  };
}
