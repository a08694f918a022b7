import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { runFirstPass } from '@/pipeline/match';
import { readGlb } from '@/pipeline/read-files';
import { eelSeller } from '../../../demo/cast/eel-seller';
import { writeFigure } from '../../../demo/figure/write-figure';
import { QUAY } from '../definition/quay';
import { applyAction, type FitAction } from '../fit/actions/fit-actions';
import { initialFit, roleBonesOf, type FitState } from '../fit/fit';
import type { FitSubject } from '../fit/actions/action';
import { compose } from '../math/mat4';
import { angleOf, conjugate, fromAxisAngle, multiply, type Quat } from '../math/quat';
import { computeWorlds } from '../rig/pose';
import { ALIGN_CHOICES } from './align-posture';
import { measurePosture } from './measure-posture';

let subject: FitSubject;
let fresh: FitState;
beforeAll(async () => {
  const { rig } = await readGlb(await writeFigure(eelSeller()), 'eel-seller');
  subject = { rig, definition: QUAY, ...runFirstPass(rig, QUAY) };
  fresh = initialFit(subject.match, QUAY);
});

const after = (state: FitState, ...actions: FitAction[]): FitState =>
  actions.reduce((at, action) => {
    const outcome = applyAction(at, action, subject);
    if (!outcome.ok) throw new Error(outcome.message);
    return outcome.state;
  }, state);
const align = (...roles: string[]): FitAction => ({ kind: 'align-posture', ...(roles.length > 0 && { roles }) });
const turn = (role: string, degrees: number, about: 'hinge' | 'front' | 'left' = 'front'): FitAction => ({
  kind: 'turn-roles',
  roles: [role],
  about,
  degrees,
});
const offBy = (state: FitState, role: string): number => {
  const worlds = computeWorlds(subject.rig, state.posture);
  const { deviations } = measurePosture({ ...subject, roleBones: roleBonesOf(state), worlds });
  const found = deviations.find((deviation) => deviation.role === role);
  if (!found) throw new Error(`no deviation of ${role}`);
  return (found.deviationRad * 180) / Math.PI;
};
/** Largest difference of any bone's world rotation, or that of a role's, degrees. */
const difference = (a: FitState, b: FitState, role?: string): number => {
  const only = role && roleBonesOf(fresh).get(role);
  const [x, y] = [a, b].map(({ posture }) => computeWorlds(subject.rig, posture));
  const turned = (m: readonly number[]): Quat => rotationOf(m);
  return Math.max(
    ...x
      .map((world, bone) => (angleOf(multiply(conjugate(turned(world)), turned(y[bone]))) * 180) / Math.PI)
      .filter((_, bone) => only === undefined || bone === only),
  );
};
const rotationOf = (m: readonly number[]): Quat => {
  // Columns to a quaternion, by the trace; written here so that the test shares nothing with what it judges.
  const w = Math.sqrt(Math.max(0, 1 + m[0] + m[5] + m[10])) / 2;
  const signed = (value: number, by: number) => (by < 0 ? -value : value);
  return [
    signed(Math.sqrt(Math.max(0, 1 + m[0] - m[5] - m[10])) / 2, m[6] - m[9]),
    signed(Math.sqrt(Math.max(0, 1 - m[0] + m[5] - m[10])) / 2, m[8] - m[2]),
    signed(Math.sqrt(Math.max(0, 1 - m[0] - m[5] + m[10])) / 2, m[1] - m[4]),
    w,
  ];
};
const ALIGNED = QUAY.roles.filter(({ alignment }) => alignment !== 'leave').map(({ id }) => id);

describe('align always starts from the chosen pose', () => {
  it('one set of roles gives one result, in whatever order and however often it was pressed', () => {
    const mapped = ALIGNED.filter((role) => role in fresh.assignments);
    fc.assert(
      fc.property(fc.shuffledSubarray(mapped, { minLength: 1, maxLength: 8 }), (roles) => {
        const once = after(fresh, align(...roles));
        const singly = after(fresh, ...roles.map((role) => align(role)), align(...roles));
        expect(singly.posture).toEqual(once.posture);
      }),
      { seed: 11, numRuns: 12 },
    );
    expect(after(fresh, align(), align()).posture).toEqual(after(fresh, align()).posture);
    expect(after(fresh, align('leftUpperArm'), align()).posture).toEqual(after(fresh, align()).posture);
  });

  it('a turn by hand stays where it was put while other roles are aligned, with what hangs on it', () => {
    const turned = after(fresh, align(), turn('leftUpperArm', 12));
    expect(offBy(turned, 'leftUpperArm')).toBeCloseTo(12, 6);
    expect(offBy(turned, 'leftLowerArm')).toBeCloseTo(12, 6);
    const others = after(turned, align('rightUpperArm', 'rightUpperLeg'));
    expect(difference(turned, others)).toBeLessThan(1e-6);
    expect(offBy(after(others, align('leftUpperArm')), 'leftUpperArm')).toBeLessThan(1e-6);
  });

  it('what was turned there and back aligns to the same, and undo of a turn is the turn back', () => {
    const aligned = after(fresh, align());
    const back = after(aligned, turn('leftLowerArm', 35, 'hinge'), turn('leftLowerArm', -35, 'hinge'));
    expect(difference(aligned, back)).toBeLessThan(1e-6);
    expect(difference(after(back, align()), aligned)).toBeLessThan(1e-6);
  });

  it('feet lie as flat as at rest, though the leg was swung by hand before', () => {
    const swung = after(fresh, turn('leftUpperLeg', 20, 'left'), align());
    expect(difference(swung, after(fresh, align()), 'leftFoot')).toBeLessThan(1e-6);
    const pitched = after(fresh, turn('leftFoot', 9, 'left'), align());
    expect(difference(pitched, after(fresh, align()), 'leftFoot')).toBeCloseTo(9, 0);
  });

  it('keeps what it is asked to keep', () => {
    const choose = (change: object): FitState =>
      after(fresh, { kind: 'align-posture', choices: { ...ALIGN_CHOICES, ...change } });
    const usual = after(fresh, align());
    expect(offBy(usual, 'leftIndexIntermediate')).toBeLessThan(1e-6);
    const curled = choose({ curl: 'keep' });
    expect(offBy(curled, 'leftIndexProximal')).toBeLessThan(1e-6);
    const local = (state: FitState, role: string) => state.posture.rotations[roleBonesOf(state).get(role) as number];
    expect(local(curled, 'leftIndexIntermediate')).toBeUndefined();
    expect(local(curled, 'leftThumbDistal')).toBeUndefined();
    const rest = offBy(fresh, 'leftFoot');
    expect(offBy(choose({ feet: 'keep' }), 'leftFoot')).toBeCloseTo(rest, 6);
    const level = computeWorlds(subject.rig, choose({ shoulders: 'level' }).posture);
    const [collar, arm] = ['leftShoulder', 'leftUpperArm'].map((role) => level[roleBonesOf(fresh).get(role) as number]);
    expect(Math.abs(collar[13] - arm[13])).toBeLessThan(1e-6);
  });

  it('sets the roll where that is wanted, and nothing but the roll', () => {
    const twisted = after(fresh, { kind: 'turn-roles', roles: ['leftHand'], about: 'bone', degrees: 25 });
    const rolls = (state: FitState) =>
      measurePosture({ ...subject, roleBones: roleBonesOf(state), worlds: computeWorlds(subject.rig, state.posture) })
        .deviations.filter(({ role }) => role === 'leftHand')
        .map(({ rollRad, deviationRad }) => [Math.abs(rollRad as number), deviationRad]);
    expect(rolls(after(twisted, align()))[0][0]).toBeGreaterThan(0.2);
    const set = after(twisted, { kind: 'align-posture', choices: { ...ALIGN_CHOICES, roll: 'set' } });
    expect(rolls(set)[0][0]).toBeLessThan(1e-6);
    expect(rolls(set)[0][1]).toBeLessThan(1e-6);
  });
});

describe('a pose that is taken', () => {
  const pose = { rotations: { 3: fromAxisAngle([0, 0, 1], 0.4) }, shift: null };

  it('replaces what stood, is what align starts from, and is left by a reset', () => {
    const taken = after(fresh, align(), { kind: 'set-pose', origin: 'file', label: 'a file', pose });
    expect(taken.posture).toMatchObject({ rotations: pose.rotations, taken: pose, aligned: [] });
    expect(after(taken, align(), { kind: 'reset-posture' }).posture).toEqual(fresh.posture);
  });

  it('is refused whole where it names a bone that is not there or a rotation that is none', () => {
    const refused = (rotations: Record<string, Quat>) =>
      applyAction(fresh, { kind: 'set-pose', origin: 'file', label: 'x', pose: { rotations, shift: null } }, subject);
    expect(refused({ 9999: [0, 0, 0, 1] })).toMatchObject({ ok: false, code: 'unknown-bone' });
    expect(refused({ hips: [0, 0, 0, 1] })).toMatchObject({ ok: false });
    expect(refused({ 3: [0, 0, 0, 2] })).toMatchObject({ ok: false, message: expect.stringMatching(/no unit length/) });
  });
});

describe('what stands beside the pose', () => {
  it('keeps an arm offset as a number, without touching the posture, and takes it off again', () => {
    const held = after(fresh, { kind: 'set-arm-offset', offset: { left: 12, right: 14 } });
    expect(held.layers.armOffsetDeg).toEqual({ left: 12, right: 14 });
    expect(held.posture).toEqual(fresh.posture);
    expect(after(held, { kind: 'set-arm-offset', offset: { left: 0, right: 0 } }).layers.armOffsetDeg).toBeNull();
  });

  it('refuses to turn below a bone of uneven scale, by its name', () => {
    const bones = subject.rig.bones.map((bone) =>
      bone.index === roleBonesOf(fresh).get('leftShoulder')
        ? { ...bone, restWorld: compose([0, 1, 0], [0, 0, 0, 1], [1, 1.4, 1]) }
        : bone,
    );
    const uneven = { ...subject, rig: { ...subject.rig, bones } };
    const outcome = applyAction(fresh, align('leftUpperArm'), uneven);
    expect(outcome).toMatchObject({
      ok: false,
      message: expect.stringMatching(/scaled unevenly \(1\.000 × 1\.400 × 1\.000\)/),
    });
    expect(applyAction(fresh, align('rightUpperArm'), uneven).ok).toBe(true);
  });
});
