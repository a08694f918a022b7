import { describe, expect, it } from 'vitest';
import { QUAY } from '../../definition/quay';
import { computeRigShape } from '../../rig/rig-shape';
import { makeRig } from '../../../../tests/helpers/rig-maker';
import { lineFitsOf } from './line-fits';

const chain = (names: readonly string[]) =>
  makeRig(names.map((name, at) => ({ name, parent: at === 0 ? null : names[at - 1], position: [0, at * 0.1, 0] })));
const rig = chain(['root', 'h', 's1', 's2', 's3', 's4', 's5', 'n1', 'n2', 'hd']);
const index = (name: string) => rig.bones.findIndex((bone) => bone.name === name);
const fit = (roles: Record<string, string>) =>
  lineFitsOf(computeRigShape(rig), QUAY, new Map(Object.entries(roles).map(([role, name]) => [role, index(name)])));
const named = (lines: ReturnType<typeof fit>, id: string) =>
  lines.find((line) => line.lineId === id)?.bones.map((bone) => rig.bones[bone].name);

describe('line fits', () => {
  const lines = fit({ hips: 'h', spine: 's1', chest: 's3', upperChest: 's5', neck: 'n1', head: 'hd' });

  it('keep bones between two anchors as members of the run, in order', () => {
    expect(named(lines, 'trunk')).toEqual(['h', 's1', 's2', 's3', 's4', 's5']);
    expect(lines[0].anchors).toEqual({ hips: 0, spine: 1, chest: 3, upperChest: 5 });
    expect(named(lines, 'neckHead')).toEqual(['n1', 'n2', 'hd']);
  });

  it('leave out what lies outside the anchors, and lines without a bone', () => {
    expect(named(lines, 'trunk')).not.toContain('root');
    expect(lines.map((line) => line.lineId)).toEqual(['trunk', 'neckHead']);
  });

  it('never count a bone twice when roles stand against the order of the tree', () => {
    for (const line of fit({ hips: 's3', spine: 'h', chest: 's5', upperChest: 's1', neck: 's4', head: 'n1' }))
      expect(new Set(line.bones).size).toBe(line.bones.length);
  });

  it('anchor every role that has a bone at that bone', () => {
    for (const line of lines)
      for (const [role, at] of Object.entries(line.anchors))
        expect(QUAY.lines.find((entry) => entry.id === line.lineId)?.roles, `${role} ${at}`).toContain(role);
  });
});
