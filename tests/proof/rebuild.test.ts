import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createNodeIO } from '@/formats/gltf/node-io';
import { readCast, SKINNED } from '../helpers/cast-files';
import { makeHandoff } from '../helpers/handoff-maker';
import { figureShape, writeRandomFigure } from '../helpers/random-figure';
import { judgeRebuild, rebuildInPose } from '../helpers/rebuild-judge';

/** Every transform written as such: the judge turns nodes by their rotation. */
const plain = async (bytes: Uint8Array): Promise<Uint8Array> => {
  const io = createNodeIO();
  return io.writeBinary(await io.readBinary(bytes));
};

describe('the new bind, judged by arithmetic of its own on the arrays of both files', () => {
  it.each(SKINNED)('%s stands in the reference as the original does when it is driven there', async (name) => {
    const original = await plain((await readCast(name)).glb);
    const { bytes, rig, fit, skeleton, first } = await makeHandoff(original);
    const error = judgeRebuild(original, bytes, rig, fit.posture, skeleton.similarity);
    expect(error.vertices).toBeGreaterThan(500);
    expect(error.position).toBeLessThan(1e-5 * Math.max(1, first.normalisation.heightMetres));
    expect(error.normal).toBeLessThan(1e-4);
    expect(error.tangent).toBeLessThan(1e-4);
    expect(error.morph).toBeLessThan(1e-5 * Math.max(1, first.normalisation.heightMetres));
  });

  it('holds for figures at random: turned and scaled bones, many influences, morph targets, one mesh on two skins', async () => {
    await fc.assert(
      fc.asyncProperty(figureShape, async (shape) => {
        const error = await rebuildInPose(
          await writeRandomFigure(shape),
          (bone) => ((bone * 37 + shape.seed) % 240) - 120,
        );
        expect(error.vertices).toBe(shape.vertices * (shape.hasTwoSkins ? 2 : 1));
        expect(error.position).toBeLessThan(2e-5);
        expect(error.normal).toBeLessThan(1e-4);
        expect(error.tangent).toBeLessThan(1e-4);
        expect(error.morph).toBeLessThan(2e-5);
      }),
      { numRuns: 60, seed: 15 },
    );
  });

  it('sees a vertex that is off by a tenth of a millimetre', async () => {
    const original = await plain((await readCast('lamplighter.glb')).glb);
    const { bytes, rig, fit, skeleton } = await makeHandoff(original);
    const io = createNodeIO();
    const document = await io.readBinary(bytes);
    const positions = document.getRoot().listMeshes()[0].listPrimitives()[0].getAttribute('POSITION');
    if (!positions) throw new Error('no positions');
    const [x, y, z] = positions.getElement(7, [0, 0, 0]);
    positions.setElement(7, [x + 1e-4, y, z]);
    const error = judgeRebuild(original, await io.writeBinary(document), rig, fit.posture, skeleton.similarity);
    expect(error.position).toBeGreaterThan(9e-5);
  });
});
