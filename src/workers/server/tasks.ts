import { runFirstPass, type FirstPass } from '@/core/assess/assess';
import { QUAY } from '@/core/definition/quay';
import { problemOf, type Problem } from '@/core/errors/yarvo-error';
import { drawPortrait } from '@/core/portrait/portrait';
import type { Rig } from '@/core/rig/rig';
import { readGlb } from '@/formats/gltf/read-glb';
import { buildPack, type Pack, type PackInput } from '@/formats/pack/build-pack';

export type Envelope<Value> = { readonly ok: true; readonly value: Value } | { readonly ok: false; readonly problem: Problem };

export interface IntakeTask {
  readonly bytes: Uint8Array;
  readonly fileName: string;
}

export interface IntakeResult extends FirstPass {
  readonly rig: Rig;
  readonly portrait: string;
}

/** Reads and matches an untrusted file; runs in a worker with limits. */
export async function intake({ bytes, fileName }: IntakeTask): Promise<Envelope<IntakeResult>> {
  return enveloped(fileName, async () => {
    const { rig } = await readGlb(bytes, fileName);
    const first = runFirstPass(rig, QUAY);
    return { rig, ...first, portrait: drawPortrait(rig, first.normalisation, first.match) };
  });
}

/** Writes, reads back and packs a character. */
export async function handoff(input: PackInput): Promise<Envelope<Pack>> {
  return enveloped(input.character, () => buildPack(input));
}

async function enveloped<Value>(place: string, work: () => Promise<Value>): Promise<Envelope<Value>> {
  try {
    return { ok: true, value: await work() };
  } catch (error) {
    return { ok: false, problem: problemOf(error, place) };
  }
}
