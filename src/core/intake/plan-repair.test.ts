import { describe, expect, it } from 'vitest';
import { biped } from '../../../tests/helpers/named-biped';
import { makeRig } from '../../../tests/helpers/rig-maker';
import { isPossible, outlookOf, type PlannedRepair } from './plan-repair';

const rig = makeRig(biped());
const at = (name: string) => rig.bones.findIndex((bone) => bone.name === name);
const name = (bone: number) => rig.bones[bone].name;
const links = (plan: PlannedRepair) =>
  outlookOf(rig, plan)
    .links.map(([parent, child]) => `${name(parent)} > ${name(child)}`)
    .sort();

describe('a planned repair', () => {
  it('that merges a bone hands its children to its parent', () => {
    const plan = { kind: 'collapse', bones: [at('chest')] } as const;
    expect(links(plan)).toEqual(['spine > collar_l', 'spine > collar_r', 'spine > neck']);
    expect(outlookOf(rig, plan)).toMatchObject({ gone: [at('chest')], joints: [] });
    expect(links({ kind: 'collapse', bones: [at('head')] })).toEqual([]);
  });

  it('that merges several in a row hands what is left to the next one above', () => {
    expect(links({ kind: 'collapse', bones: [at('forearm_l'), at('upper_arm_l')] })).toEqual(['collar_l > hand_l']);
    expect(links({ kind: 'collapse', bones: [at('chest'), at('neck')] })).toEqual([
      'spine > collar_l',
      'spine > collar_r',
      'spine > head',
    ]);
  });

  it('that hangs bones elsewhere links each to its new parent', () => {
    const plan = { kind: 'reparent', bones: [at('toes_l'), at('toes_r')], parent: at('hips') } as const;
    expect(links(plan)).toEqual(['hips > toes_l', 'hips > toes_r']);
    expect(outlookOf(rig, plan).gone).toEqual([]);
  });

  it('that puts a joint above a bone puts it half-way from the parent', () => {
    expect(outlookOf(rig, { kind: 'insert', bones: [at('hand_l')] })).toEqual({
      links: [],
      gone: [],
      joints: [{ from: at('forearm_l'), to: at('hand_l'), share: 0.5 }],
    });
  });

  it('is possible where the tree allows it', () => {
    expect(isPossible(rig, { kind: 'collapse', bones: [at('head'), at('hand_l')] })).toBe(true);
    expect(isPossible(rig, { kind: 'collapse', bones: [at('head'), at('hips')] })).toBe(false);
    expect(isPossible(rig, { kind: 'insert', bones: [at('hips')] })).toBe(false);
    expect(isPossible(rig, { kind: 'insert', bones: [] })).toBe(false);
    const hang = (bone: string, parent: string) =>
      isPossible(rig, { kind: 'reparent', bones: [at(bone)], parent: at(parent) });
    expect([
      hang('hand_l', 'chest'),
      hang('chest', 'hand_l'),
      hang('chest', 'chest'),
      hang('hips', 'head'),
      hang('hand_l', 'forearm_l'),
    ]).toEqual([true, false, false, false, true]);
  });
});
