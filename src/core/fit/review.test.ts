import { beforeAll, describe, expect, it } from 'vitest';
import { readGlb } from '@/pipeline/read-files';
import { CAST } from '../../../demo/cast/cast';
import { runFirstPass } from '@/pipeline/match';
import { QUAY } from '../definition/quay';
import type { Match } from '../match/context/match-types';
import type { Rig } from '../rig/rig';
import { initialFit, type FitState } from './fit';
import { candidatesBelow, candidatesFor, rolesToReview, clashingRoles, doubtsOf } from './review';

let rig: Rig;
let match: Match;
let start: FitState;
beforeAll(async () => {
  ({ rig } = await readGlb(await CAST['eel-seller.glb'].make(), 'eel-seller'));
  ({ match } = runFirstPass(rig, QUAY));
  start = initialFit(match, QUAY);
});
const withStates = (states: Record<string, 'settled' | 'proposed' | 'doubtful'>): FitState => ({
  ...start,
  assignments: {
    ...start.assignments,
    ...Object.fromEntries(Object.entries(states).map(([role, state]) => [role, { ...start.assignments[role], state }])),
  },
});

describe('roles to review', () => {
  it('are the doubts first, then what is proposed, in the order of the definition; settled ones are done', () => {
    const state = withStates({ leftHand: 'doubtful', spine: 'doubtful', hips: 'settled' });
    const all = rolesToReview(QUAY, state, 'all');
    expect(all.slice(0, 2)).toEqual(['spine', 'leftHand']);
    expect(all).not.toContain('hips');
    expect(new Set(all).size).toBe(all.length);
    expect(all).toHaveLength(Object.keys(start.assignments).length - 1);
    const order = QUAY.roles.map(({ id }) => id);
    expect(all.slice(2)).toEqual([...all.slice(2)].sort((a, b) => order.indexOf(a) - order.indexOf(b)));
    expect(rolesToReview(QUAY, state, 'doubtful')).toEqual(['spine', 'leftHand']);
  });

  it('count a required role without a bone, unless it was left vacant on purpose; an optional one is no task', () => {
    const { head: _head, jaw: _jaw, ...assignments } = start.assignments;
    const state = { ...start, assignments };
    expect(rolesToReview(QUAY, state, 'doubtful')).toEqual(['head']);
    expect(rolesToReview(QUAY, { ...state, leftVacant: ['head'] }, 'all')).not.toContain('head');
    expect(rolesToReview(QUAY, state, 'all')).not.toContain('jaw');
  });

  it('count a bone that contradicts the order of the tree as a doubt, until somebody settles it', () => {
    const clashes = clashingRoles([
      { check: 'tree-order', roles: ['leftLowerArm', 'leftUpperArm'] },
      { check: 'tree-order', roles: ['hips', 'spine'] },
      { check: 'doubts', roles: ['head'] },
    ]);
    const state = withStates({ hips: 'settled', leftHand: 'doubtful', leftLowerArm: 'proposed' });
    expect(doubtsOf(QUAY, state, clashes)).toEqual(['leftLowerArm', 'leftHand']);
    expect(rolesToReview(QUAY, state, 'doubtful', clashes)).toEqual(['leftLowerArm', 'leftHand']);
    const all = rolesToReview(QUAY, state, 'all', clashes);
    expect(new Set(all).size).toBe(all.length);
  });

  it('are none once everything is settled', () => {
    const settled = withStates(
      Object.fromEntries(Object.keys(start.assignments).map((role) => [role, 'settled' as const])),
    );
    expect(rolesToReview(QUAY, settled, 'all')).toEqual([]);
  });
});

describe('candidates', () => {
  it('start with the bone that the role has, each bone once, then as ranked', () => {
    const own = match.assignments.leftHand;
    const list = candidatesFor('leftHand', start, match);
    expect(list[0]).toMatchObject({ boneIndex: own.boneIndex, confidence: own.confidence });
    expect(list.slice(1).map(({ boneIndex }) => boneIndex)).toEqual(own.runnersUp.map(({ boneIndex }) => boneIndex));
    const byHand = {
      ...start,
      assignments: {
        ...start.assignments,
        leftHand: { boneIndex: 3, state: 'settled' as const, origin: 'person' as const },
      },
    };
    const moved = candidatesFor('leftHand', byHand, match);
    expect(moved[0]).toEqual({ boneIndex: 3, confidence: null, evidence: ['put here by hand'] });
    expect(moved[1].boneIndex).toBe(own.boneIndex);
    expect(new Set(moved.map(({ boneIndex }) => boneIndex)).size).toBe(moved.length);
  });

  it('are none for a role that nothing was found for', () => {
    expect(candidatesFor('leftEye', { ...start, assignments: {} }, { ...match, assignments: {} })).toEqual([]);
  });

  it('below a bone are its children, the longest limb first, each with what it is', () => {
    const hand = match.assignments.leftHand.boneIndex;
    const below = candidatesBelow(hand, rig, match);
    expect(below.map(({ boneIndex }) => boneIndex).sort()).toEqual(
      rig.bones
        .filter(({ parent }) => parent === hand)
        .map(({ index }) => index)
        .sort(),
    );
    for (const { evidence, confidence } of below) {
      expect(confidence).toBeNull();
      expect(evidence).toHaveLength(2);
      expect(evidence[1]).toMatch(/vertices/);
    }
    const leaf = rig.bones.find(({ index }) => !rig.bones.some(({ parent }) => parent === index))!;
    expect(candidatesBelow(leaf.index, rig, match)).toEqual([]);
  });
});
