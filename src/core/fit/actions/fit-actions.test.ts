import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { runFirstPass } from '@/pipeline/match';
import { QUAY } from '../../definition/quay';
import { readGlb } from '@/pipeline/read-files';
import { netMender } from '../../../../demo/cast/net-mender';
import { writeFigure } from '../../../../demo/figure/write-figure';
import { countDoubts, FitStateSchema, initialFit, sparesOf, type FitState } from '../fit';
import type { FitSubject } from './action';
import { applyAction, type FitAction } from './fit-actions';
import { historyPosition, type ChangeKind } from '../history';

let subject: FitSubject;
let start: FitState;
beforeAll(async () => {
  const { rig } = await readGlb(await writeFigure(netMender()), 'net-mender');
  subject = { rig, definition: QUAY, ...runFirstPass(rig, QUAY) };
  start = initialFit(subject.match, QUAY);
});

const act = (state: FitState, action: FitAction): FitState => {
  const outcome = applyAction(state, action, subject);
  if (!outcome.ok) throw new Error(outcome.message);
  return outcome.state;
};

describe('applyAction', () => {
  it('moves a bone when it is given another role: one bone, one role', () => {
    const bone = start.assignments.leftHand.boneIndex;
    const next = act(start, { kind: 'assign', role: 'leftFoot', boneIndex: bone });
    expect(next.assignments.leftFoot).toEqual({ boneIndex: bone, state: 'settled', origin: 'person' });
    expect(next.assignments).not.toHaveProperty('leftHand');
  });

  it('never gives a bone two roles, whatever is done', () => {
    const roles = QUAY.roles.map((role) => role.id);
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(...roles), fc.nat(subject.rig.bones.length - 1)), { maxLength: 40 }),
        (steps) => {
          const end = steps.reduce(
            (state, [role, boneIndex]) => act(state, { kind: 'assign', role, boneIndex }),
            start,
          );
          const bones = Object.values(end.assignments).map((assignment) => assignment.boneIndex);
          expect(new Set(bones).size).toBe(bones.length);
          FitStateSchema.parse(end);
        },
      ),
      { numRuns: 50 },
    );
  });

  it('leaves the given state as it was', () => {
    const before = structuredClone(start);
    act(start, { kind: 'clear', role: 'head' });
    act(start, { kind: 'align-posture' });
    expect(start).toEqual(before);
  });

  it('refuses unknown roles and bones in words', () => {
    expect(applyAction(start, { kind: 'assign', role: 'gill', boneIndex: 0 }, subject)).toMatchObject({
      ok: false,
      code: 'unknown-role',
    });
    expect(applyAction(start, { kind: 'assign', role: 'head', boneIndex: 999 }, subject)).toMatchObject({
      ok: false,
      code: 'unknown-bone',
    });
    expect(applyAction(start, { kind: 'clear', role: 'jaw' }, subject)).toMatchObject({
      ok: false,
      code: 'nothing-to-do',
    });
  });

  it('exchanges two roles, also with a vacant one, and twice is as before but settled', () => {
    const hand = start.assignments.leftHand.boneIndex;
    const foot = start.assignments.leftFoot.boneIndex;
    const swapped = act(start, { kind: 'swap', roles: ['leftHand', 'leftFoot'] });
    expect([swapped.assignments.leftHand.boneIndex, swapped.assignments.leftFoot.boneIndex]).toEqual([foot, hand]);
    const moved = act(start, { kind: 'swap', roles: ['leftHand', 'jaw'] });
    expect(moved.assignments.jaw.boneIndex).toBe(hand);
    expect(moved.assignments).not.toHaveProperty('leftHand');
    expect(applyAction(start, { kind: 'swap', roles: ['jaw', 'leftEye'] }, subject)).toMatchObject({
      ok: false,
      code: 'nothing-to-do',
    });
    expect(applyAction(start, { kind: 'swap', roles: ['jaw', 'gill'] }, subject)).toMatchObject({
      ok: false,
      code: 'unknown-role',
    });
  });

  it('clears a line, or everything, and nothing else', () => {
    const line = act(start, { kind: 'clear-line', line: 'leftArm' });
    const gone = Object.keys(start.assignments)
      .filter((role) => !(role in line.assignments))
      .sort();
    expect(gone).toEqual(['leftHand', 'leftLowerArm', 'leftShoulder', 'leftUpperArm']);
    expect(act(start, { kind: 'clear-all' }).assignments).toEqual({});
    expect(applyAction(line, { kind: 'clear-line', line: 'leftArm' }, subject)).toMatchObject({
      ok: false,
      code: 'nothing-to-do',
    });
  });

  it("mirrors one side to the other by the bones' partners", () => {
    const half = Object.keys(start.assignments)
      .filter((role) => role.startsWith('right'))
      .reduce((state, role) => act(state, { kind: 'clear', role }), start);
    const whole = act(half, { kind: 'mirror', from: 'left' });
    for (const [role, { boneIndex }] of Object.entries(start.assignments))
      expect(whole.assignments[role].boneIndex, role).toBe(boneIndex);
    expect(applyAction(whole, { kind: 'mirror', from: 'left' }, subject)).toMatchObject({
      ok: false,
      code: 'nothing-to-do',
    });
  });

  it('exchanging the sides twice changes nothing', () => {
    expect(act(act(start, { kind: 'swap-sides' }), { kind: 'swap-sides' })).toEqual(start);
    expect(act(start, { kind: 'swap-sides' }).assignments.leftHand).toEqual(start.assignments.rightHand);
  });

  it('settles only what the first pass was that sure of', () => {
    const surest = Math.max(...Object.values(subject.match.assignments).map(({ confidence }) => confidence));
    const next = act(start, { kind: 'settle-above', confidence: surest });
    const settled = Object.entries(next.assignments).map(([role, assignment]) => [
      role,
      assignment.state === 'settled',
    ]);
    expect(Object.fromEntries(settled)).toEqual(
      Object.fromEntries(
        settled.map(([role]) => [role, subject.match.assignments[role as string].confidence >= surest]),
      ),
    );
    expect(new Set(settled.map(([, isSettled]) => isSettled)).size).toBe(2);
    const all = act(next, { kind: 'settle', roles: Object.keys(next.assignments) });
    expect(countDoubts(all)).toBe(0);
  });

  it('does not take settling in bulk for a look at a doubt', () => {
    const doubted: FitState = {
      ...start,
      assignments: { ...start.assignments, leftHand: { ...start.assignments.leftHand, state: 'doubtful' } },
    };
    const next = act(doubted, { kind: 'settle-above', confidence: 0 });
    expect(
      Object.entries(next.assignments)
        .filter(([, { state }]) => state !== 'settled')
        .map(([role]) => role),
    ).toEqual(['leftHand']);
    expect(act(next, { kind: 'settle', roles: ['leftHand'] }).assignments.leftHand.state).toBe('settled');
  });

  it('remembers a role left vacant on purpose, until it gets a bone', () => {
    const vacant = act(start, { kind: 'leave-vacant', role: 'leftToes' });
    expect(vacant.assignments).not.toHaveProperty('leftToes');
    expect(vacant.leftVacant).toEqual(['leftToes']);
    expect(applyAction(vacant, { kind: 'leave-vacant', role: 'leftToes' }, subject)).toMatchObject({
      code: 'nothing-to-do',
    });
    expect(
      act(vacant, { kind: 'assign', role: 'leftToes', boneIndex: start.assignments.leftToes.boneIndex }).leftVacant,
    ).toEqual([]);
  });

  it('gives spares a kind by hand, in bulk, and takes it back; a bone with a role has none', () => {
    const [a, b] = subject.match.spares.map(({ boneIndex }) => boneIndex);
    const hand = start.assignments.leftHand.boneIndex;
    const set = act(start, { kind: 'set-spare-kind', bones: [a, b, hand], spareKind: 'prop' });
    expect(set.spareKinds).toEqual({ [a]: 'prop', [b]: 'prop' });
    expect(sparesOf(subject.match, set).find(({ boneIndex }) => boneIndex === a)).toMatchObject({
      kind: 'prop',
      reason: 'set by hand',
    });
    expect(sparesOf(subject.match, set)).toHaveLength(subject.match.spares.length);
    expect(act(set, { kind: 'assign', role: 'jaw', boneIndex: a }).spareKinds).toEqual({ [b]: 'prop' });
    expect(act(set, { kind: 'set-spare-kind', bones: [a, b], spareKind: null })).toEqual(start);
    expect(applyAction(start, { kind: 'set-spare-kind', bones: [hand], spareKind: 'prop' }, subject)).toMatchObject({
      code: 'nothing-to-do',
    });
    expect(applyAction(start, { kind: 'set-spare-kind', bones: [99_999], spareKind: 'prop' }, subject)).toMatchObject({
      code: 'unknown-bone',
    });
  });

  it('closes a finished fit only, and a closed one takes nothing but a reopening with its reason', () => {
    const open = act(start, { kind: 'clear', role: 'leftHand' });
    expect(applyAction(open, { kind: 'close' }, subject)).toMatchObject({
      code: 'not-finished',
      message: expect.stringContaining('Left hand has no bone'),
    });
    const closed = act(start, { kind: 'close' });
    expect(applyAction(closed, { kind: 'clear', role: 'leftHand' }, subject)).toMatchObject({
      ok: false,
      code: 'closed',
    });
    expect(applyAction(closed, { kind: 'close' }, subject)).toMatchObject({ ok: false, code: 'closed' });
    expect(act(closed, { kind: 'reopen', reason: 'the hand was weighted anew' })).toEqual(start);
    expect(applyAction(start, { kind: 'reopen', reason: 'why not' }, subject)).toMatchObject({ code: 'nothing-to-do' });
  });

  it('fills a line from its start, its ends or its bones in order', () => {
    const boneOf = (role: string) => start.assignments[role].boneIndex;
    const empty = act(start, { kind: 'clear-all' });
    const digit = act(empty, { kind: 'fill-line', line: 'leftIndex', bones: [boneOf('leftIndexProximal')] });
    for (const role of ['leftIndexProximal', 'leftIndexIntermediate', 'leftIndexDistal'])
      expect(digit.assignments[role]).toEqual({ boneIndex: boneOf(role), state: 'settled', origin: 'person' });
    const arm = act(digit, { kind: 'fill-line', line: 'leftArm', bones: [boneOf('leftHand'), boneOf('leftShoulder')] });
    for (const role of ['leftShoulder', 'leftUpperArm', 'leftLowerArm', 'leftHand'])
      expect(arm.assignments[role].boneIndex, role).toBe(boneOf(role));
    expect(Object.keys(arm.assignments)).toHaveLength(7);
    const three = act(empty, {
      kind: 'fill-line',
      line: 'leftArm',
      bones: [boneOf('leftUpperArm'), boneOf('leftLowerArm'), boneOf('leftHand')],
    });
    expect(Object.keys(three.assignments)).toEqual(['leftUpperArm', 'leftLowerArm', 'leftHand']);
    const legs = ['leftUpperLeg', 'rightUpperLeg'].map(boneOf);
    expect(applyAction(empty, { kind: 'fill-line', line: 'leftLeg', bones: legs }, subject)).toMatchObject({
      code: 'no-run',
      message: expect.stringContaining('not one above the other'),
    });
    const many = subject.rig.bones.slice(0, 6).map(({ index }) => index);
    expect(applyAction(empty, { kind: 'fill-line', line: 'leftArm', bones: many }, subject)).toMatchObject({
      code: 'no-run',
      message: expect.stringContaining('at most 4'),
    });
    expect(applyAction(empty, { kind: 'fill-line', line: 'wing', bones: [1] }, subject)).toMatchObject({
      code: 'no-run',
    });
  });

  it('keeps first and last bone of a long trunk and puts the chest nearer the ribs', () => {
    const bones = [0, 1, 2, 3, 4, 5].filter((index) => index < subject.rig.bones.length);
    const filled = act(act(start, { kind: 'clear-all' }), { kind: 'fill-line', line: 'trunk', bones });
    expect(
      Object.fromEntries(Object.entries(filled.assignments).map(([role, { boneIndex }]) => [role, boneIndex])),
    ).toEqual({ hips: 0, spine: 1, chest: 3, upperChest: 5 });
  });

  it("goes back to the first pass and to the file's own rest", () => {
    const changed = act(act(act(start, { kind: 'clear', role: 'head' }), { kind: 'settle', roles: ['hips'] }), {
      kind: 'align-posture',
    });
    expect(act(act(changed, { kind: 'rematch' }), { kind: 'reset-posture' })).toEqual(start);
  });
});

describe('historyPosition', () => {
  const rows = (...kinds: ChangeKind[]) => kinds.map((kind, revision) => ({ kind, revision }));
  it('walks back and forth, and forgets the future after an act', () => {
    expect(historyPosition(rows('start'))).toEqual({ undoTo: null, redoTo: null });
    expect(historyPosition(rows('start', 'act', 'act'))).toEqual({ undoTo: 1, redoTo: null });
    expect(historyPosition(rows('start', 'act', 'act', 'undo'))).toEqual({ undoTo: 0, redoTo: 2 });
    expect(historyPosition(rows('start', 'act', 'undo', 'redo'))).toEqual({ undoTo: 0, redoTo: null });
    expect(historyPosition(rows('start', 'act', 'undo', 'act'))).toEqual({ undoTo: 0, redoTo: null });
  });
});
