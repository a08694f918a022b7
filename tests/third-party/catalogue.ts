import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { problemOf } from '@/core/errors/yarvo-error';
import type { Rig } from '@/core/rig/rig';
import type { SourceFile } from '@/formats/files/companions';
import { onlyModel, unpackAll } from '@/formats/source/open-source';
import { readSource } from '@/pipeline/read-files';

/** Where Debian's package assimp-testmodels keeps files by many hands. They are test input only. */
export const MODELS = '/usr/share/assimp/models';
const WANTED = /\.(fbx|dae|zae|bvh|gltf|glb|vrm)$/i;

export interface Outcome {
  readonly file: string;
  readonly sha256: string;
  readonly milliseconds: number;
  readonly result:
    | { readonly verdict: 'read'; readonly rig: Rig }
    | { readonly verdict: 'refused'; readonly code: string; readonly message: string; readonly place: string };
}

export function listModels(): string[] {
  const files: string[] = [];
  const walk = (folder: string) => {
    for (const name of readdirSync(folder).sort()) {
      const at = path.join(folder, name);
      if (statSync(at).isDirectory()) walk(at);
      else if (WANTED.test(name)) files.push(path.relative(MODELS, at));
    }
  };
  walk(MODELS);
  return files;
}

/** A file as it lies there. */
export const sourceOf = (file: string): SourceFile => ({
  path: path.basename(file),
  bytes: new Uint8Array(readFileSync(path.join(MODELS, file))),
});

/** Reads a file with everything that lies beside it, as a dropped folder would bring it. */
export async function readModel(file: string): Promise<Outcome> {
  const bytes = new Uint8Array(readFileSync(path.join(MODELS, file)));
  const base = { file, sha256: createHash('sha256').update(bytes).digest('hex') };
  const start = performance.now();
  try {
    const main: SourceFile = { path: path.basename(file), bytes };
    const unpacked = unpackAll([main]);
    const { rig } = await readSource(unpacked.length === 1 && unpacked[0] === main ? main : onlyModel(unpacked, file), [
      ...unpacked,
      ...beside(file),
    ]);
    return { ...base, milliseconds: performance.now() - start, result: { verdict: 'read', rig } };
  } catch (error) {
    const { code, message, place } = problemOf(error, file);
    return { ...base, milliseconds: performance.now() - start, result: { verdict: 'refused', code, message, place } };
  }
}

/** A file of a format that Yarvo does not read, made a GLB by Debian's `assimp export`. */
export function convertedGlb(file: string): Uint8Array {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'yarvo-converted-'));
  try {
    const target = path.join(folder, 'converted.glb');
    execFileSync('assimp', ['export', path.join(MODELS, file), target, '-fglb2'], { stdio: 'ignore' });
    return new Uint8Array(readFileSync(target));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The same, read; the hash is the file's own. */
export async function readConverted(file: string): Promise<Outcome> {
  const start = performance.now();
  const main: SourceFile = { path: 'converted.glb', bytes: convertedGlb(file) };
  const { rig } = await readSource(main, [main]);
  const sha256 = createHash('sha256')
    .update(readFileSync(path.join(MODELS, file)))
    .digest('hex');
  return { file, sha256, milliseconds: performance.now() - start, result: { verdict: 'read', rig } };
}

function beside(file: string): SourceFile[] {
  const folder = path.dirname(path.join(MODELS, file));
  return readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && entry.name !== path.basename(file) && /\.(bin|png|jpe?g)$/i.test(entry.name))
    .map((entry) => path.join(entry.parentPath, entry.name))
    .filter((at) => statSync(at).size < 8_000_000)
    .map((at) => ({ path: path.relative(folder, at), bytes: new Uint8Array(readFileSync(at)) }));
}

/** Bones that the file itself has: the tips that stand for end sites are ours to name. */
export const ownBones = (rig: Rig): number =>
  rig.bones.filter((bone) => !(rig.source.format === 'bvh' && bone.name.endsWith(' end'))).length;
export const movingBones = (rig: Rig): number => rig.bones.filter((bone) => bone.skinWeight > 0).length;
