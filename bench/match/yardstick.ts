import { readFileSync } from 'node:fs';
import path from 'node:path';
import { parseText } from 'fbx-parser';
import { QUAY } from '@/core/definition/quay';
import { matchBones } from '@/core/match/match-bones';
import { readSource } from '@/formats/source/read-source';
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
  readonly match: number;
}

/** Time to match a committed file of 150 bones against the time to parse it. */
export async function measureYardstick(): Promise<Yardstick> {
  const bytes = new Uint8Array(readFileSync(path.resolve(import.meta.dirname, '../../demo/files/yardstick', FILE)));
  const source = { path: FILE, bytes };
  const text = new TextDecoder().decode(bytes);
  const { rig } = await readSource(source, [source]);
  for (let run = 0; run < WARM_UP; run++) matchBones(rig, QUAY);
  const [parses, bares, matches]: [number[], number[], number[]] = [[], [], []];
  for (let run = 0; run < RUNS; run++) {
    const start = performance.now();
    await readSource(source, [source]);
    const read = performance.now();
    parseText(text);
    const parsed = performance.now();
    matchBones(rig, QUAY);
    parses.push(read - start);
    bares.push(parsed - read);
    matches.push(performance.now() - parsed);
  }
  return { file: FILE, bones: rig.bones.length, parse: median(parses), bare: median(bares), match: median(matches) };
}
