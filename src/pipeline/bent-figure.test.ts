import { describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { fromAxisAngle, multiply, type Quat } from '@/core/math/quat';
import type { Vec3 } from '@/core/math/vec3';
import { TIDEWATER } from '@/core/profile/shipped';
import type { RepairKind } from '@/core/repairs/repair-kinds';
import { createNodeIO } from '@/formats/gltf/node-io';
import { CAST } from '../../demo/cast/cast';
import { checkReading, repairFile } from './check';
import { readSource } from './read-files';

const YARDSTICKS = { definition: QUAY, profile: TIDEWATER };
const ALIGN: ReadonlySet<RepairKind> = new Set(['align-posture']);

/** A cast member whose file rests with some bones turned about axes of the world, mesh and all. */
async function bent(...turns: readonly (readonly [role: string, axis: Vec3, degrees: number])[]) {
  const bytes = await CAST['lamplighter.glb'].make();
  const path = 'lamplighter.glb';
  const { plan } = checkReading(await readSource({ path, bytes }, []), YARDSTICKS);
  const document = await createNodeIO().readBinary(bytes);
  const nodes = document.getRoot().listNodes();
  for (const [role, axis, degrees] of turns) {
    const bone = plan.rig.bones[plan.fit.assignments[role].boneIndex];
    const node = nodes[bone.nodeIndex];
    const turn = fromAxisAngle(axis, (degrees * Math.PI) / 180);
    node.setRotation([...multiply(node.getRotation() as Quat, turn)] as [number, number, number, number]);
  }
  const main = { path, bytes: await createNodeIO().writeBinary(document) };
  return { main, files: [main] };
}

const repaired = (source: Awaited<ReturnType<typeof bent>>, ...kinds: RepairKind[]) =>
  repairFile(source, YARDSTICKS, new Set<RepairKind>([...ALIGN, ...kinds]));

describe('a figure whose body is bent in its file', () => {
  it('is stopped when all of it is aligned, and says what is off', async () => {
    const { findings } = await repaired(await bent(['spine', [1, 0, 0], 75]));
    const [finding] = findings.filter(({ check }) => check === 'reference-pose');
    expect(finding).toMatchObject({ severity: 'blocker', repair: 'straighten-body' });
    expect(finding.sentence).toMatch(/^The body is bent or turned: .*by \d+\.\d degrees/);
  });

  it('is straightened by its repair, and nothing of it tears', async () => {
    const source = await bent(['spine', [1, 0, 0], 75], ['neck', [0, 0, 1], 50]);
    const { findings, plan } = await repaired(source, 'straighten-body');
    expect(findings.filter(({ check }) => check === 'reference-pose' || check === 'tears')).toEqual([]);
    expect(plan.summary.class).toBe('T');
  });

  it('is left alone where it is upright', async () => {
    const { findings } = await repaired(await bent());
    expect(findings.filter(({ check }) => check === 'reference-pose' || check === 'tears')).toEqual([]);
  });

  it('shows where one bone takes over from another', async () => {
    const { rig } = await readSource((await bent()).main, []);
    const seams = rig.facts?.seams ?? [];
    expect(seams.length).toBeGreaterThan(20);
    for (const { bones } of seams)
      expect(rig.bones[bones[0]].skinVertexCount * rig.bones[bones[1]].skinVertexCount).toBeGreaterThan(0);
  });
});
