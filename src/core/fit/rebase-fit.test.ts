import { FILE_REST } from '../posture/posture';
import { describe, expect, it } from 'vitest';
import { biped } from '../../../tests/helpers/named-biped';
import { makeRig, type PlainBone } from '../../../tests/helpers/rig-maker';
import { QUAY } from '../definition/quay';
import { NO_DECISIONS, type IntakeDecisions } from '../intake/decisions';
import { matchBones } from '../match/match-bones';
import { initialFit, type FitState } from './fit';
import { rebaseFit, type ReadRig } from './rebase-fit';

/** A rig of these bones whose nodes were, in the file as read, those of `origins`. */
function readRig(bones: readonly PlainBone[], origins: readonly number[] | null): ReadRig {
  const rig = makeRig(bones, true);
  return { rig, match: matchBones(rig, QUAY), origins };
}

const bones = biped();
const before = readRig(bones, null);
const at = (name: string, { rig } = before) => rig.bones.findIndex((bone) => bone.name === name);
const decide = (change: Partial<IntakeDecisions>): IntakeDecisions => ({ ...NO_DECISIONS, ...change });
const REPAIRED = decide({ tree: [{ kind: 'insert', node: 3, share: 0.5, name: 'joint', made: -2 }] });

/** The figure read backwards with a joint more that a repair made, so that every index is another one. */
const moved = (() => {
  const listed = [...bones.keys()];
  const order = [
    ...listed.filter((index) => bones[index].parent === null),
    ...listed.filter((index) => bones[index].parent !== null).sort((a, b) => depth(a) - depth(b) || b - a),
  ];
  const withJoint = [
    ...order.map((index) => bones[index]),
    { name: 'joint', parent: 'chest', position: [0, 1.3, -0.05] as [number, number, number] },
  ];
  return readRig(withJoint, [...order, -2]);
})();
function depth(index: number): number {
  const { parent } = bones[index];
  return parent === null ? 0 : 1 + depth(bones.findIndex((bone) => bone.name === parent));
}

const start = initialFit(before.match, QUAY);
const carry = (state: FitState, intake = REPAIRED, from = before, to = moved) =>
  rebaseFit(state, from, to, QUAY, intake);
const boneOf = (state: FitState, role: string, { rig } = moved) =>
  state.assignments[role] ? rig.bones[state.assignments[role].boneIndex].name : null;
const by = (
  state: FitState,
  role: string,
  bone: number,
  change: Partial<FitState['assignments'][string]> = {},
): FitState => ({
  ...state,
  assignments: { ...state.assignments, [role]: { boneIndex: bone, state: 'settled', origin: 'person', ...change } },
});

describe('a fit carried over to another reading of the file', () => {
  it('follows its bones to their new places', () => {
    const carried = carry(start);
    for (const role of Object.keys(start.assignments)) expect(boneOf(carried, role)).toBe(boneOf(start, role, before));
    expect(carried.intake).toBe(REPAIRED);
  });

  it('keeps what a person put or settled, and only that, against the new first pass', () => {
    const wrong = by(start, 'leftHand', at('forearm_l'));
    expect(boneOf(carry(wrong), 'leftHand')).toBe('forearm_l');
    expect(carry(wrong).assignments.leftHand).toMatchObject({ state: 'settled', origin: 'person' });
    // The bone has one role: the forearm's own is not proposed a second time.
    expect(boneOf(carry(wrong), 'leftLowerArm')).toBeNull();
    const settled = by(start, 'leftHand', at('forearm_l'), { origin: 'match' });
    expect(boneOf(carry(settled), 'leftHand')).toBe('forearm_l');
    const proposed = by(start, 'leftHand', at('forearm_l'), { origin: 'match', state: 'doubtful' });
    expect(boneOf(carry(proposed), 'leftHand')).toBe('hand_l');
  });

  it('keeps vacant what a person cleared or left vacant', () => {
    const { leftToes: _toes, ...assignments } = start.assignments;
    expect(boneOf(carry({ ...start, assignments }), 'leftToes')).toBeNull();
    const left = carry({ ...start, assignments, leftVacant: ['leftToes'] });
    expect(boneOf(left, 'leftToes')).toBeNull();
    expect(left.leftVacant).toEqual(['leftToes']);
  });

  it('proposes what only the new reading shows', () => {
    const short = readRig(
      bones.filter(({ name }) => !name.startsWith('toes')),
      null,
    );
    const toed = carry(initialFit(short.match, QUAY), REPAIRED, short, moved);
    expect(boneOf(toed, 'leftToes')).toBe('toes_l');
  });

  it('drops a role whose bone is gone, and what was said of that bone', () => {
    const gone = readRig(
      bones.filter(({ name }) => !name.startsWith('toes')),
      bones.flatMap(({ name }, index) => (name.startsWith('toes') ? [] : [index])),
    );
    const state = {
      ...by(start, 'leftToes', at('toes_l')),
      spareKinds: { [at('toes_l')]: 'prop', [at('neck')]: 'dangling' } as const,
    };
    const carried = carry(state, REPAIRED, before, gone);
    expect(carried.assignments).not.toHaveProperty('leftToes');
    expect(carried.spareKinds).toEqual({ [at('neck', gone)]: 'dangling' });
  });

  it('follows a joint that a repair made, as long as it is there', () => {
    const state = by(initialFit(moved.match, QUAY, REPAIRED), 'upperChest', at('joint', moved));
    const more = decide({ tree: [...REPAIRED.tree, { kind: 'collapse', node: 4, name: 'it' }] });
    const joined = readRig(
      [...bones, { name: 'joint', parent: 'chest', position: [0, 1.3, -0.05] }],
      [...bones.map((_, index) => index), -2],
    );
    expect(boneOf(carry(state, more, moved, joined), 'upperChest', joined)).toBe('joint');
    expect(boneOf(carry(state, NO_DECISIONS, moved, before), 'upperChest', before)).toBeNull();
    // Nodes that are neither the file's nor named by a repair are told apart from everything.
    const unnamed = readRig(
      [...bones, { name: 'joint', parent: 'chest', position: [0, 1.3, -0.05] }],
      [...bones.map((_, index) => index), -1],
    );
    expect(
      boneOf(
        carry(by(initialFit(unnamed.match, QUAY), 'upperChest', at('joint', unnamed)), REPAIRED, unnamed, unnamed),
        'upperChest',
        unnamed,
      ),
    ).toBeNull();
  });

  it('keeps the posture by its bones while the pose it starts from stays, and no longer', () => {
    const turn = [0, 0, Math.SQRT1_2, Math.SQRT1_2] as const;
    const posed: FitState = {
      ...start,
      posture: {
        ...FILE_REST,
        rotations: { [at('upper_arm_l')]: turn },
        shift: { boneIndex: at('hips'), offset: [0, 0.1, 0] },
      },
    };
    expect(carry(posed).posture).toEqual({
      ...FILE_REST,
      rotations: { [at('upper_arm_l', moved)]: turn },
      shift: { boneIndex: at('hips', moved), offset: [0, 0.1, 0] },
    });
    expect(carry(posed, decide({ pose: { kind: 'bind' } })).posture).toEqual(FILE_REST);
  });

  it('is the same fit where the decisions read the file alike', () => {
    const noted = decide({ provenance: { ...NO_DECISIONS.provenance, author: 'Tilda Marsh' } });
    expect(carry(start, noted, before, before)).toEqual({ ...start, intake: noted });
  });
});
