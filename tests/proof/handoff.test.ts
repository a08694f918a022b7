import { Matrix4, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { TIDEWATER } from '@/core/profile/shipped';
import { readBack } from '@/pipeline/verify';
import { readCast, SKINNED } from '../helpers/cast-files';
import { makeHandoff } from '../helpers/handoff-maker';
import { bonePositions, driveTo, loadWithThree, playAt, skinnedVertices } from '../helpers/three-oracle';

const TOLERANCE_METRES = 1e-5;

const largestDistance = (a: readonly Vector3[], b: readonly Vector3[]): number => {
  expect(a.length).toBe(b.length);
  return a.reduce((largest, point, at) => Math.max(largest, point.distanceTo(b[at])), 0);
};

describe.each(SKINNED)('handoff of %s', (name) => {
  it('writes the mesh that an independent loader gets by driving the original to the posture', async () => {
    const original = (await readCast(name)).glb;
    const { bytes, rig, fit, skeleton } = await makeHandoff(original);
    const source = await loadWithThree(original);
    driveTo(source, rig, fit.posture);
    const similarity = new Matrix4().fromArray([...skeleton.similarity]);
    const expected = skinnedVertices(source).map((point) => point.applyMatrix4(similarity));
    const written = skinnedVertices(await loadWithThree(bytes));
    expect(expected.length).toBeGreaterThan(1000);
    expect(largestDistance(expected, written)).toBeLessThan(TOLERANCE_METRES);
  });

  it('is valid, holds the reference pose and is matched again by name and by shape', async () => {
    const { bytes, rig, fit, first, names } = await makeHandoff((await readCast(name)).glb);
    const back = await readBack({ bytes, rig, fit, definition: QUAY, profile: TIDEWATER, names, ...first });
    expect(back.failures).toEqual([]);
    expect(back.validator.errors).toBe(0);
    expect(back.rolesMatchedByName).toBe(back.rolesWritten);
    // Without names a stilt is a shin to any eye: ankles and toes are then sought at the floor.
    if (name !== 'stilt-walker.glb') expect(back.rolesMatchedWithoutNames).toBe(back.rolesWritten);
    expect(back.posture).toMatch(/^T-pose/);
    expect(back.findings.filter((finding) => finding.check === 'root-bone')).toEqual([]);
  });

  it('plays every clip with the joints where the original puts them', async () => {
    const original = (await readCast(name)).glb;
    const { bytes, rig, names, skeleton } = await makeHandoff(original);
    const similarity = new Matrix4().fromArray([...skeleton.similarity]);
    const source = await loadWithThree(original);
    const written = await loadWithThree(bytes);
    expect(written.animations.length).toBe(source.animations.length);
    for (const seconds of source.animations.length > 0 ? [0, 0.31, 0.77] : []) {
      playAt(source, 0, seconds);
      playAt(written, 0, seconds);
      const places = bonePositions(written);
      for (const bone of rig.bones) {
        const expected = source.nodes
          .get(bone.nodeIndex)
          ?.getWorldPosition(new Vector3())
          .applyMatrix4(similarity) as Vector3;
        const actual = places.get(names.names[bone.index]);
        expect(actual, names.names[bone.index]).toBeDefined();
        expect(actual?.distanceTo(expected)).toBeLessThan(TOLERANCE_METRES);
      }
    }
  });
});
