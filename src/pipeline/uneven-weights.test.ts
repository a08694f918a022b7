import { validateBytes } from 'gltf-validator';
import { expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { TIDEWATER } from '@/core/profile/shipped';
import { SAFE_REPAIRS } from '@/core/repairs/repair-kinds';
import { createNodeIO } from '@/formats/gltf/node-io';
import { CAST } from '../../demo/cast/cast';
import { repairFile } from './check';

const YARDSTICKS = { definition: QUAY, profile: TIDEWATER };

/** A cast member whose weights are multiplied by so much, or kept in bytes that do not add up to 255. */
async function scaled(factor: number, asBytes = false): Promise<Uint8Array> {
  const document = await createNodeIO().readBinary(await CAST['lamplighter.glb'].make());
  for (const mesh of document.getRoot().listMeshes())
    for (const primitive of mesh.listPrimitives()) {
      const weights = primitive.getAttribute('WEIGHTS_0');
      const values = weights?.getArray();
      if (!weights || !values) continue;
      if (asBytes) {
        const bytes = Uint8Array.from(values as ArrayLike<number>, (value) => Math.floor(value * 255 * factor));
        weights.setArray(bytes).setNormalized(true);
      } else weights.setArray(Float32Array.from(values as ArrayLike<number>, (value) => value * factor));
    }
  return createNodeIO().writeBinary(document);
}

it.each([
  ['a millionth more than 1', 1.0000009, false],
  ['a thousandth less than 1', 0.999, false],
  ['bytes that add up to 254', 0.9961, true],
])('weights that sum to %s are written as the format wants them', async (_what, factor, asBytes) => {
  const bytes = await scaled(factor, asBytes);
  const before = await validateBytes(bytes, { maxIssues: 100 });
  expect(before.issues.numErrors).toBeGreaterThan(0);
  const path = 'lamplighter.glb';
  const source = { main: { path, bytes }, files: [{ path, bytes }] };
  // Whether a person makes the repair or not.
  for (const kinds of [new Set<never>(), new Set(SAFE_REPAIRS)]) {
    const { glb } = await repairFile(source, YARDSTICKS, kinds);
    const { issues } = await validateBytes(glb, { maxIssues: 100 });
    expect(issues.messages.filter(({ severity }) => severity === 0).map(({ code }) => code)).toEqual([]);
  }
});
