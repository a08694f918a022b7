import { describe, expect, it } from 'vitest';
import { biped } from '../../../tests/helpers/named-biped';
import { makeRig, type PlainBone } from '../../../tests/helpers/rig-maker';
import { QUAY } from '../definition/quay';
import { matchBones } from '../match/match-bones';
import { FIRST_BASIS, initialFit, type FitState } from './fit';
import { renewFit, type SeenRig } from './renew-fit';

const NEXT = { ...FIRST_BASIS, reader: 2 };

function seen(bones: readonly PlainBone[]): SeenRig {
  const rig = makeRig(bones, true);
  return { rig, match: matchBones(rig, QUAY) };
}

const before = seen(biped());
const start = initialFit(before.match, QUAY);
const boneName = ({ rig }: SeenRig, state: FitState, role: string) =>
  state.assignments[role] ? rig.bones[state.assignments[role].boneIndex].name : null;
const settled = (state: FitState, role: string): FitState => ({
  ...state,
  assignments: { ...state.assignments, [role]: { ...state.assignments[role], state: 'settled' } },
});

describe('a fit carried over to a newer reader', () => {
  it('follows its bones by name and place in the tree where the reader lists them in another order', () => {
    const bones = biped();
    const withRoot = seen([{ name: 'world', parent: null, position: [0, 0, 0] }, ...bones]);
    const { state, changes } = renewFit(settled(start, 'head'), before, withRoot, QUAY, NEXT);
    expect(changes).toEqual([]);
    for (const role of Object.keys(start.assignments))
      expect(boneName(withRoot, state, role), role).toBe(boneName(before, start, role));
    expect(state.basis).toEqual(NEXT);
  });

  it('lists a settled bone that the reader no longer has as lost, and what was only proposed there as changed', () => {
    const gone = boneName(before, start, 'leftHand') as string;
    const isKept = ({ name, parent }: PlainBone) => name !== gone && parent !== gone;
    let bones = biped().filter(isKept);
    // What hung on a bone that went goes with it.
    for (let count = 0; count !== bones.length;) {
      count = bones.length;
      bones = bones.filter(({ parent }) => parent === null || bones.some(({ name }) => name === parent));
    }
    const poorer = seen(bones);
    const { state, changes } = renewFit(settled(start, 'leftHand'), before, poorer, QUAY, NEXT);
    expect(changes[0]).toEqual({ role: 'leftHand', from: gone, to: null, kind: 'lost' });
    expect(state.assignments.leftHand?.state).not.toBe('settled');
    const proposed = renewFit(start, before, poorer, QUAY, NEXT).changes.find(({ role }) => role === 'leftHand');
    expect(proposed).toMatchObject({ kind: 'proposed', from: gone });
  });

  it('leaves what a person cleared or left vacant as it is', () => {
    const { head: _head, jaw: _jaw, ...assignments } = start.assignments;
    const state: FitState = { ...start, assignments, leftVacant: ['jaw'] };
    const renewed = renewFit(state, before, before, QUAY, NEXT);
    expect(renewed.changes).toEqual([]);
    expect(Object.keys(renewed.state.assignments).sort()).toEqual(Object.keys(assignments).sort());
  });
});
