import { describe, expect, it } from 'vitest';
import type { SourceFile } from '@/formats/files/companions';
import { onlyModel, unpackAll, writeCanonical } from '@/formats/source/open-source';
import { readSource } from '@/pipeline/read-files';
import { rebuildInPose } from '../helpers/rebuild-judge';
import { convertedGlb, sourceOf } from './catalogue';
import list from './list.json';

/** Files by other hands whose vertices hang on bones. */
const SKINNED = list.filter(({ verdict, moving, vertices }) => verdict === 'read' && (moving ?? 0) > 1 && vertices);

/** The same in formats that Yarvo does not read: made GLBs by another program first. */
const CONVERTED = ['X/BCN_Epileptic.X', 'X/Testwuson.X', 'MD5/SimpleCube.md5mesh'];

async function canonicalGlb(main: SourceFile, file: string): Promise<Uint8Array> {
  const unpacked = unpackAll([main]);
  const model = unpacked.length === 1 && unpacked[0] === main ? main : onlyModel(unpacked, file);
  const { document } = await readSource(model, unpacked);
  return writeCanonical(document);
}

async function expectKept(glb: Uint8Array): Promise<void> {
  const error = await rebuildInPose(glb, (bone) => ((bone * 53) % 90) - 45);
  expect(error.vertices).toBeGreaterThan(0);
  expect(error.position).toBeLessThan(1e-5 * Math.max(1, error.height));
  expect(error.normal).toBeLessThan(1e-4);
  expect(error.tangent).toBeLessThan(1e-4);
  expect(error.morph).toBeLessThan(1e-5 * Math.max(1, error.height));
}

describe('the new bind of third-party files, every bone turned, keeps every vertex where the original has it:', () => {
  it.each(SKINNED.map(({ file }) => file))('%s', async (file) => {
    await expectKept(await canonicalGlb(sourceOf(file), file));
  });

  it.each(CONVERTED)('%s, converted', async (file) => {
    await expectKept(await canonicalGlb({ path: 'converted.glb', bytes: convertedGlb(file) }, file));
  });

  it('is tried on more than a handful', () => {
    expect(SKINNED.length + CONVERTED.length).toBeGreaterThanOrEqual(7);
  });
});
