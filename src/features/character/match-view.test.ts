import { beforeAll, describe, expect, it } from 'vitest';
import type { CharacterView, FitView } from '@/contract/character-view';
import { assessFit } from '@/pipeline/judge';
import { runFirstPass } from '@/pipeline/match';
import { QUAY } from '@/core/definition/quay';
import { initialFit, type FitState } from '@/core/fit/fit';
import { TIDEWATER } from '@/core/profile/shipped';
import { readGlb } from '@/pipeline/read-files';
import { CAST } from '../../../demo/cast/cast';
import { ledgerRows, linesOf, mapRoles, orderProblems, sidesOf, symmetryBreaks } from './match-view';

let character: CharacterView;
let start: FitState;
beforeAll(async () => {
  const { rig } = await readGlb(await CAST['eel-seller.glb'].make(), 'eel-seller');
  const first = runFirstPass(rig, QUAY);
  start = initialFit(first.match, QUAY);
  character = { rig, ...first } as CharacterView;
});
const viewOf = (state: FitState): FitView =>
  ({
    state,
    findings: assessFit({ ...character, fit: state, definition: QUAY, profile: TIDEWATER }).findings,
  }) as unknown as FitView;
const boneOf = (role: string) => start.assignments[role].boneIndex;
const withBones = (bones: Record<string, number>): FitState => ({
  ...start,
  assignments: {
    ...start.assignments,
    ...Object.fromEntries(
      Object.entries(bones).map(([role, boneIndex]) => [
        role,
        { boneIndex, state: 'settled' as const, origin: 'person' as const },
      ]),
    ),
  },
});

describe('what the map draws', () => {
  it('has no break and no disorder on a tidy rig', () => {
    expect([...symmetryBreaks(character, viewOf(start), QUAY)]).toEqual([]);
    expect(orderProblems(viewOf(start))).toEqual([]);
    expect(new Set([...mapRoles(character, viewOf(start)).values()].map(({ state }) => state))).toEqual(
      new Set(['proposed']),
    );
  });

  it('breaks both sides where one is vacant or two bones are no mirror images, and nowhere else', () => {
    const { rightFoot: _foot, ...assignments } = start.assignments;
    expect([...symmetryBreaks(character, viewOf({ ...start, assignments }), QUAY)].sort()).toEqual([
      'leftFoot',
      'rightFoot',
    ]);
    const crossed = withBones({ leftUpperArm: boneOf('leftLowerArm'), leftLowerArm: boneOf('leftUpperArm') });
    expect([...symmetryBreaks(character, viewOf(crossed), QUAY)].sort()).toEqual([
      'leftLowerArm',
      'leftUpperArm',
      'rightLowerArm',
      'rightUpperArm',
    ]);
  });

  it('links roles that stand against the tree, and shows the lower one as a clash', () => {
    const view = viewOf(withBones({ leftUpperArm: boneOf('leftLowerArm'), leftLowerArm: boneOf('leftUpperArm') }));
    expect(orderProblems(view)).toContainEqual(['leftLowerArm', 'leftUpperArm']);
    expect(mapRoles(character, view).get('leftLowerArm')).toMatchObject({ state: 'clash', confidence: null });
  });
});

describe('the ledger', () => {
  it('lists every bone once, children after their parent, one step deeper', () => {
    const view = viewOf(start);
    const rows = ledgerRows(character, view, QUAY, linesOf(character, view, QUAY));
    expect(rows.map(({ index }) => index).sort((a, b) => a - b)).toEqual(character.rig.bones.map(({ index }) => index));
    const depths = new Map(rows.map(({ index, depth }) => [index, depth]));
    const seen = new Set<number>([-1]);
    for (const { index } of rows) {
      const { parent } = character.rig.bones[index];
      expect(seen.has(parent)).toBe(true);
      expect(depths.get(index)).toBe(parent < 0 ? 0 : (depths.get(parent) as number) + 1);
      seen.add(index);
    }
  });

  it('says what a person made of a spare, and that a bone lost its role', () => {
    const spare = character.match.spares[0].boneIndex;
    const hand = boneOf('leftHand');
    const { leftHand: _hand, ...assignments } = start.assignments;
    const view = viewOf({ ...start, assignments, spareKinds: { [spare]: 'prop' } });
    const rows = new Map(
      ledgerRows(character, view, QUAY, linesOf(character, view, QUAY)).map((row) => [row.index, row]),
    );
    expect(rows.get(spare)).toMatchObject({
      caption: 'prop',
      kind: 'spare',
      reason: expect.stringContaining('set by hand'),
    });
    expect(rows.get(hand)).toMatchObject({ caption: 'unknown', reason: expect.stringContaining('lost its role') });
    expect(rows.get(boneOf('rightHand'))).toMatchObject({ caption: 'R hand', kind: 'role' });
  });

  it('tints each mapped bone by the side of its role', () => {
    const view = viewOf(start);
    const sides = sidesOf(view, linesOf(character, view, QUAY), QUAY);
    expect([sides.get(boneOf('leftHand')), sides.get(boneOf('rightFoot')), sides.get(boneOf('head'))]).toEqual([
      'left',
      'right',
      'centre',
    ]);
    expect(sides.has(character.match.spares[0].boneIndex)).toBe(false);
  });
});
