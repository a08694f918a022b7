import { expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { EBB } from '@/core/profile/shipped';
import { SAFE_REPAIRS, type RepairKind } from '@/core/repairs/repair-kinds';
import { repairFile } from '@/pipeline/check';
import { readCast } from '../helpers/cast-files';

const left = async (name: string, more: readonly RepairKind[] = []) => {
  const main = { path: name, bytes: (await readCast(name)).glb };
  const kinds = new Set([...SAFE_REPAIRS, ...more]);
  const { findings, plan } = await repairFile({ main, files: [main] }, { definition: QUAY, profile: EBB }, kinds);
  return { plan, open: findings.filter(({ severity }) => severity !== 'note').map(({ check }) => check) };
};

it('the plan of a clean character for Ebb, other axes and small limits, is clean after the safe repairs', async () => {
  const { open, plan } = await left('lamplighter.glb');
  expect(open).toEqual([]);
  expect(plan.options.reorients).toBe(true);
});

it('a skirt of 31 bones is too much for Ebb, until a person merges the lightest', async () => {
  expect((await left('eel-seller.glb')).open).toEqual(['bone-count']);
  const { open, plan } = await left('eel-seller.glb', ['merge-light-bones']);
  expect(open).toEqual([]);
  expect(plan.rig.bones.length).toBeLessThanOrEqual(64);
});
