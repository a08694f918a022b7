import { describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { NO_DECISIONS } from '@/core/intake/decisions';
import { NO_MENDING } from '@/core/intake/mending';
import { decompose } from '@/core/math/mat4';
import { TIDEWATER } from '@/core/profile/shipped';
import { isAbove, parentsOf } from '@/core/rig/bone-tree';
import { createNodeIO } from '@/formats/gltf/node-io';
import { repairFile } from '@/pipeline/check';
import { interpret } from '@/pipeline/read';
import { readGlb } from '@/pipeline/read-files';
import { readCast } from '../helpers/cast-files';
import { furthest, loadWithThree, playAt, skinnedVertices } from '../helpers/three-oracle';

/** A figure in whose left arm somebody left uneven scales. */
async function stretched(name: string): Promise<Uint8Array> {
  const { glb, rig } = await readCast(name);
  const document = await createNodeIO().readBinary(glb);
  const nodes = document.getRoot().listNodes();
  const bone = rig.bones.find((each) => each.skinVertexCount > 100 && each.parent > 3) ?? rig.bones[5];
  nodes[bone.nodeIndex].setScale([1.3, 0.8, 1.1]);
  return createNodeIO().writeBinary(document);
}

describe.each(['eel-seller.glb', 'lamplighter.glb'])('%s with uneven scales on a bone', (name) => {
  it('loses them where it is read: joints have none, the mesh stands and moves as before', async () => {
    const bytes = await stretched(name);
    const main = { path: name, bytes };
    const decisions = { ...NO_DECISIONS, mending: { ...NO_MENDING, appliesScale: true } };
    const { glb, rig, origins } = await interpret({ files: [main], main: name, decisions });
    for (const bone of rig.bones) for (const size of decompose(bone.restWorld).scale) expect(size).toBeCloseTo(1, 5);
    expect(origins.filter((origin) => origin >= 0).length).toBeGreaterThan(rig.bones.length - 1);
    const [before, after] = await Promise.all([loadWithThree(bytes), loadWithThree(glb)]);
    expect(furthest(skinnedVertices(before), skinnedVertices(after))).toBeLessThan(1e-5);
    if (before.animations.length === 0) return;
    // What hangs below an uneven scale is sheared by the file as it turns; all else moves as before.
    for (const loaded of [before, after]) playAt(loaded, 0, 0);
    expect(furthest(skinnedVertices(before), skinnedVertices(after))).toBeLessThan(0.05);
  });

  it('is hung otherwise then, which an uneven scale forbids', async () => {
    const bytes = await stretched(name);
    const { rig } = await readGlb(bytes, name);
    const scaled = rig.bones.find(({ rest }) => rest.scale[0] > 1.2);
    const below = rig.bones.find(({ parent }) => parent === scaled?.index);
    const parents = parentsOf(rig);
    const target = (below ?? scaled)?.index ?? -1;
    const other = rig.bones.find(
      ({ index, parent }) => parent >= 0 && parent !== target && index !== target && !isAbove(parents, index, target),
    );
    if (!other || target < 0) throw new Error('nothing is scaled');
    const [node, parent] = [other.nodeIndex, rig.bones[target].nodeIndex];
    const tree = [{ kind: 'reparent' as const, node, parent, name: 'a', parentName: 'b' }];
    const read = (appliesScale: boolean) =>
      interpret({
        files: [{ path: name, bytes }],
        main: name,
        decisions: { ...NO_DECISIONS, tree, mending: { ...NO_MENDING, appliesScale } },
      });
    // Bones along the scaled axes are not sheared: the lamplighter's are.
    if (name === 'eel-seller.glb') await expect(read(false)).rejects.toThrow(/sheared/);
    const { rig: hung } = await read(true);
    const moved = hung.bones.find((bone) => bone.name === other.name);
    expect(hung.bones[moved?.parent ?? -1]?.name).toBe(rig.bones[target].name);
  });

  it('can be aligned then, which an uneven scale forbids', async () => {
    const main = { path: name, bytes: await stretched(name) };
    const yardsticks = { definition: QUAY, profile: TIDEWATER };
    const { findings, repairs } = await repairFile(
      { main, files: [main] },
      yardsticks,
      new Set(['apply-scale', 'align-posture']),
    );
    expect(repairs).toContain('apply-scale');
    const left = findings.map(({ check }) => check);
    expect(left).not.toContain('bone-scale');
    expect(left).not.toContain('reference-pose');
  });
});
