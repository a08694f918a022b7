import { describe, expect, it } from 'vitest';
import { QUAY } from '../definition/quay';
import { matchBones } from '../match/match-bones';
import { CAST } from '../../../demo/cast/cast';
import { readGlb } from '@/pipeline/read-files';
import { shippedDialect, withSideMarks } from './dialect';
import { readNames } from './read-names';

const sides = (names: string[], marks: { left: string; right: string } | null) =>
  readNames(
    names,
    withSideMarks(shippedDialect(), marks),
    names.map(() => -1),
  ).bones.map((bone) => bone.side);

describe('side marks set by hand', () => {
  it('take the place of those the dialect knows', () => {
    const names = ['lee_arm', 'luff_arm', 'lee_leg', 'luff_leg', 'left_hat'];
    expect(sides(names, null)).toEqual([null, null, null, null, 'left']);
    expect(sides(names, { left: 'lee', right: '_luff' })).toEqual(['left', 'right', 'left', 'right', null]);
  });

  it('turn the sides of a match round where they are set the other way round, which strong geometry then contradicts', async () => {
    const { rig } = await readGlb(await CAST['lamplighter.glb'].make(), 'lamplighter');
    const renamed = {
      ...rig,
      bones: rig.bones.map((bone) => ({ ...bone, name: bone.name.replace(/left/i, 'luff').replace(/right/i, 'lee') })),
    };
    const right = matchBones(renamed, QUAY, { sideMarks: { left: 'luff', right: 'lee' } });
    const wrong = matchBones(renamed, QUAY, { sideMarks: { left: 'lee', right: 'luff' } });
    expect(right.frame.namesAreSwapped).toBe(false);
    expect(right.frame.reasons.some((reason) => reason.includes('names'))).toBe(true);
    expect(wrong.frame.reasons.some((reason) => reason.includes('names')) && !wrong.frame.namesAreSwapped).toBe(
      wrong.assignments.leftHand.boneIndex === right.assignments.rightHand.boneIndex,
    );
  });
});
