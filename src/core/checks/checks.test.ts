import { beforeAll, describe, expect, it } from 'vitest';
import { assessFit, judge } from '@/pipeline/judge';
import { runFirstPass } from '@/pipeline/match';
import type { FirstPass } from '../match/first-pass';
import { QUAY } from '../definition/quay';
import { initialFit, type FitState } from '../fit/fit';
import { TIDEWATER } from '../profile/shipped';
import type { Rig } from '../rig/rig';
import { USUAL_OPTIONS } from '../fit/handoff-options';
import { planHandoff } from '../plan/handoff-plan';
import { planNames } from '../plan/plan-names';
import { readGlb } from '@/pipeline/read-files';
import { lamplighter } from '../../../demo/cast/lamplighter';
import { netMender } from '../../../demo/cast/net-mender';
import { writeFigure, type Figure } from '../../../demo/figure/write-figure';

interface Subject extends FirstPass {
  rig: Rig;
  fit: FitState;
}
const load = async (figure: Figure): Promise<Subject> => {
  const { rig } = await readGlb(await writeFigure(figure), 'test');
  const first = runFirstPass(rig, QUAY);
  return { rig, ...first, fit: initialFit(first.match, QUAY) };
};
const findings = (subject: Subject, change: Partial<Subject> = {}) =>
  assessFit({ ...subject, ...change, definition: QUAY, profile: TIDEWATER }).findings;
const named = (subject: Subject, check: string, change?: Partial<Subject>) =>
  findings(subject, change).filter((finding) => finding.check === check);

let tidy: Subject;
beforeAll(async () => {
  tidy = await load(lamplighter());
});

describe('checks', () => {
  it('find nothing but notes on the tidy character', () => {
    expect([...new Set(findings(tidy).map((finding) => finding.severity))]).toEqual(['note']);
  });

  it('name a pattern of a kept profile that cannot be run, and let names be', () => {
    const profile = { ...TIDEWATER, names: { ...TIDEWATER.names, allowed: '^(?!x)[a-z]+$' } };
    const { findings: found } = assessFit({ ...tidy, definition: QUAY, profile });
    expect(found[0]).toMatchObject({ check: 'profile-faults', severity: 'blocker' });
    expect(found[0].sentence).toMatch(/Tidewater.*names\.allowed/);
    expect(found.filter(({ check, severity }) => check === 'bone-names' && severity === 'blocker')).toEqual([]);
  });

  it('name a missing required role as a blocker', () => {
    const { leftHand: _gone, ...assignments } = tidy.fit.assignments;
    const [finding] = named(tidy, 'required-roles', { fit: { ...tidy.fit, assignments } });
    expect(finding).toMatchObject({ severity: 'blocker', sentence: 'Left hand has no bone.', roles: ['leftHand'] });
  });

  it('see two roles turned round along the arm', () => {
    const { leftLowerArm, leftHand, ...rest } = tidy.fit.assignments;
    const assignments = { ...rest, leftLowerArm: leftHand, leftHand: leftLowerArm };
    const [finding] = named(tidy, 'tree-order', { fit: { ...tidy.fit, assignments } });
    expect(finding.severity).toBe('blocker');
    expect(finding.boneIndices).toContain(leftLowerArm.boneIndex);
  });

  it('miss a root where the hips lead, and plan to add one', async () => {
    const rootless = await load(netMender());
    expect(named(rootless, 'root-bone')[0]).toMatchObject({
      severity: 'caution',
      sentence: 'There is no root bone above the hips.',
    });
    expect(planNames({ ...rootless, definition: QUAY, profile: TIDEWATER }).addsRoot).toBe(true);
    expect(planNames({ ...tidy, definition: QUAY, profile: TIDEWATER }).addsRoot).toBe(false);
  });

  it('measure an uneven and a uniform scale differently', () => {
    const scaled = (matrix: (world: readonly number[]) => number[]) => ({
      ...tidy.rig,
      bones: tidy.rig.bones.map((bone, at) => (at === 3 ? { ...bone, restWorld: matrix(bone.restWorld) } : bone)),
    });
    const stretch = (x: number, y: number) => (world: readonly number[]) =>
      world.map((value, at) =>
        at < 3 ? value * x : at >= 4 && at < 7 ? value * y : at >= 8 && at < 11 ? value * y : value,
      );
    expect(named(tidy, 'bone-scale', { rig: scaled(stretch(2, 1)) })[0]).toMatchObject({
      severity: 'blocker',
      boneIndices: [3],
    });
    expect(named(tidy, 'bone-scale', { rig: scaled(stretch(2, 2)) })[0]).toMatchObject({ severity: 'note' });
  });

  it('refuse names the engine cannot take, and names that differ only by case', () => {
    const rename = (names: Record<number, string>) => ({
      ...tidy.rig,
      bones: tidy.rig.bones.map((bone) => ({ ...bone, name: names[bone.index] ?? bone.name })),
    });
    const spareFit = {
      ...tidy.fit,
      assignments: Object.fromEntries(Object.entries(tidy.fit.assignments).filter(([role]) => !/Toes/.test(role))),
    };
    const toes = ['leftToes', 'rightToes'].map((role) => tidy.match.assignments[role].boneIndex);
    const change = { fit: spareFit, rig: rename({ [toes[0]]: 'Flap 1', [toes[1]]: 'flap_1' }) };
    const shared = named(tidy, 'bone-names', change).find(({ key }) => key.startsWith('bone-names/shared'));
    expect(shared?.boneIndices).toEqual(toes.sort((a, b) => a - b));
    const plan = planNames({ ...tidy, ...change, definition: QUAY, profile: TIDEWATER });
    expect(new Set(plan.names.map((name) => name.toLowerCase())).size).toBe(plan.names.length);
    for (const name of plan.names) expect(name).toMatch(/^[A-Za-z_][A-Za-z0-9_]*$/);
  });

  it('are a function of their input', () => {
    expect(findings(tidy)).toEqual(findings(structuredClone(tidy)));
  });
});

describe('the key of a finding', () => {
  it('names check, aspect and subjects, is found once, and stays when something else changes', async () => {
    const rootless = await load(netMender());
    const keys = findings(rootless).map(({ key }) => key);
    expect(new Set(keys).size).toBe(keys.length);
    const { jaw: _jaw, ...assignments } = rootless.fit.assignments;
    const changed = findings(rootless, { fit: { ...rootless.fit, assignments } });
    const root = findings(rootless).find(({ check }) => check === 'root-bone');
    expect(root?.key).toBe('root-bone/above-hips hips');
    expect(changed.map(({ key }) => key)).toContain(root?.key);
  });

  it('is another one when the same check speaks of other subjects', () => {
    const { leftHand: _left, ...withoutLeft } = tidy.fit.assignments;
    const { rightHand: _right, ...withoutRight } = tidy.fit.assignments;
    const [left] = named(tidy, 'required-roles', { fit: { ...tidy.fit, assignments: withoutLeft } });
    const [right] = named(tidy, 'required-roles', { fit: { ...tidy.fit, assignments: withoutRight } });
    expect(left.key).not.toBe(right.key);
  });
});

describe('a handoff plan', () => {
  it('adds no root where its options say so, and the finding says what that means', async () => {
    const rootless = await load(netMender());
    const input = { ...rootless, definition: QUAY, profile: TIDEWATER };
    const plan = planHandoff({ ...input, options: { ...USUAL_OPTIONS, addsRoot: false } });
    expect(plan.names.addsRoot).toBe(false);
    expect(judge(plan).findings.find(({ check }) => check === 'root-bone')?.remedy).toMatch(/set to add none/);
    expect(planHandoff(input).names.addsRoot).toBe(true);
  });

  it('holds why the skeleton cannot be written, and the checks still judge it', () => {
    const bones = tidy.rig.bones.map((bone) =>
      bone.name === tidy.rig.bones[tidy.fit.assignments.head.boneIndex].name
        ? { ...bone, restWorld: bone.restWorld.map((value, at) => (at < 12 ? 0 : value)) }
        : bone,
    );
    const plan = planHandoff({ ...tidy, rig: { ...tidy.rig, bones }, definition: QUAY, profile: TIDEWATER });
    expect(plan.skeleton).toMatchObject({ problem: { code: 'zero-scale' } });
    expect(judge(plan).findings.some(({ check, severity }) => check === 'bone-scale' && severity === 'blocker')).toBe(
      true,
    );
  });
});
