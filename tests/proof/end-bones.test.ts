import { describe, expect, it } from 'vitest';
import { Vector3 } from 'three';
import { QUAY } from '@/core/definition/quay';
import { EngineProfileSchema } from '@/core/profile/profile';
import { TIDEWATER } from '@/core/profile/shipped';
import { repairFile } from '@/pipeline/check';
import { readCast } from '../helpers/cast-files';
import { carriedBy, furthest, loadWithThree, skinnedVertices } from '../helpers/three-oracle';

const profile = EngineProfileSchema.parse({ ...TIDEWATER, endBones: true });
const NAME = 'eel-seller.glb';

async function repaired(kinds: readonly ('add-end-bones' | 'normalise-weights')[]) {
  const { glb } = await readCast(NAME);
  const main = { path: NAME, bytes: glb };
  return repairFile({ main, files: [main] }, { definition: QUAY, profile }, new Set(kinds));
}

describe('end bones', () => {
  it('are wanted where the profile says so, added at the far end of the skin, and move nothing', async () => {
    const before = await repaired(['normalise-weights']);
    const open = before.findings.find(({ check }) => check === 'end-bones');
    expect(open?.roles.length).toBeGreaterThan(0);
    const after = await repaired(['add-end-bones']);
    expect(after.repairs).toEqual(['add-end-bones']);
    expect(after.findings.filter(({ check }) => check === 'end-bones')).toEqual([]);
    // The same roles on the same bones, with one bone more for each that was open.
    const rolesOf = ({ plan }: typeof after) =>
      Object.entries(plan.fit.assignments).map(([role, { boneIndex }]) => [role, plan.rig.bones[boneIndex].name]);
    expect(rolesOf(after)).toEqual(expect.arrayContaining(rolesOf(before)));
    expect(after.plan.rig.bones.length - before.plan.rig.bones.length).toBe(open?.roles.length);

    const [was, is] = await Promise.all([loadWithThree(before.glb), loadWithThree(after.glb)]);
    const [a, b] = [skinnedVertices(was), skinnedVertices(is)];
    expect(furthest(a, b)).toBeLessThan(1e-5);
    for (const role of open?.roles ?? []) {
      const bone = after.plan.fit.assignments[role].boneIndex;
      const name = after.plan.names.names[bone];
      const node = is.scene.getObjectByName(name);
      const end = node?.children.find((child) => child.name.endsWith('_end'));
      if (!node || !end) throw new Error(`${name} has no end`);
      const [from, to] = [node, end].map((each) => each.getWorldPosition(new Vector3()));
      const along = to.clone().sub(from).normalize();
      const reach = Math.max(...carriedBy(is, name, 0.3).map((point) => point.sub(from).dot(along)));
      // The end lies on the way from the bone above, as far out as its skin reaches.
      expect(to.distanceTo(from)).toBeGreaterThan(0.005);
      expect(to.distanceTo(from)).toBeCloseTo(reach, 2);
    }
  });
});
