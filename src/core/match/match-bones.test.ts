import { describe, expect, it } from 'vitest';
import { biped, both, weightless } from '../../../tests/helpers/named-biped';
import { lanternBones, makeRig, muleBones, type PlainBone } from '../../../tests/helpers/rig-maker';
import { mirrorRole } from '../definition/definition';
import { QUAY } from '../definition/quay';
import type { Rig } from '../rig/rig';
import { PROPOSED_THRESHOLD } from './verdict/confidence';
import { matchBones } from './match-bones';
import type { Match } from './context/match-types';

const nameless = (bones: readonly PlainBone[]): Rig => {
  const rig = makeRig(bones);
  return { ...rig, bones: rig.bones.map((bone) => ({ ...bone, isNamed: false })) };
};
const boneOf = (rig: Rig, match: Match, role: string) =>
  match.assignments[role] ? rig.bones[match.assignments[role].boneIndex].name : null;

describe('the first pass on a plain figure', () => {
  const rig = makeRig(
    biped([...both('eye', 'head', [0.03, 1.64, 0.08]), { name: 'jaw', parent: 'head', position: [0, 1.58, 0.04] }]),
    true,
  );
  const match = matchBones(rig, QUAY);

  it('finds every role that has a bone and no other', () => {
    expect(
      Object.fromEntries(
        Object.values(match.assignments).map(({ role, boneIndex }) => [role, rig.bones[boneIndex].name]),
      ),
    ).toEqual({
      hips: 'hips',
      spine: 'spine',
      chest: 'chest',
      neck: 'neck',
      head: 'head',
      jaw: 'jaw',
      leftEye: 'eye_l',
      rightEye: 'eye_r',
      ...Object.fromEntries(
        [
          ['Shoulder', 'collar'],
          ['UpperArm', 'upper_arm'],
          ['LowerArm', 'forearm'],
          ['Hand', 'hand'],
          ['UpperLeg', 'thigh'],
          ['LowerLeg', 'shin'],
          ['Foot', 'foot'],
          ['Toes', 'toes'],
        ].flatMap(([role, bone]) => [
          [`left${role}`, `${bone}_l`],
          [`right${role}`, `${bone}_r`],
        ]),
      ),
    });
  });

  it('knows a body by its axes: up, front, and left as up turned to the front', () => {
    expect(match.frame.up[1]).toBeCloseTo(1, 3);
    expect(match.frame.facing[2]).toBeCloseTo(1, 3);
    expect(match.frame.left[0]).toBeCloseTo(1, 3);
    expect(match.frame.confidence).toBeGreaterThan(0.99);
  });

  it('is never wholly certain, and proposes from the threshold on', () => {
    for (const { confidence, state } of Object.values(match.assignments)) {
      expect(confidence).toBeLessThanOrEqual(0.995);
      expect(state).toBe(confidence >= PROPOSED_THRESHOLD ? 'proposed' : 'doubtful');
    }
    expect(match.assignments.hips.confidence).toBe(0.995);
  });

  it('is as sure of one side as of the other', () => {
    for (const { role, confidence } of Object.values(match.assignments))
      expect(match.assignments[mirrorRole(QUAY, role)].confidence).toBe(confidence);
  });

  it('gives at most three runners-up, each another bone, likeliest first', () => {
    for (const { boneIndex, runnersUp } of Object.values(match.assignments)) {
      expect(runnersUp.length).toBeLessThanOrEqual(3);
      expect(runnersUp.map((other) => other.boneIndex)).not.toContain(boneIndex);
      expect([...runnersUp].sort((a, b) => b.confidence - a.confidence)).toEqual(runnersUp);
    }
  });

  it('pairs what the roles pair; what lies in the middle is its own partner', () => {
    const partner = (name: string) => rig.bones[match.partners[rig.bones.findIndex((bone) => bone.name === name)]].name;
    expect(['hand_l', 'hand_r', 'toes_l', 'spine', 'eye_r'].map(partner)).toEqual([
      'hand_r',
      'hand_l',
      'toes_r',
      'spine',
      'eye_l',
    ]);
  });

  it('says of each bone where it hangs, by the nearest role that was found', () => {
    const evidence = (role: string) => match.assignments[role].evidence.join('; ');
    expect(evidence('leftLowerArm')).toContain('child of the left upper arm');
    // The figure has no upper chest: the neck's parent is looked for further up.
    expect(evidence('neck')).toContain('child of the chest');
    expect(evidence('hips')).not.toContain('child of');
  });
});

describe('where a figure lacks something', () => {
  const without = (name: RegExp) =>
    biped()
      .filter((bone) => !name.test(bone.name))
      .map((bone, _, kept) =>
        bone.parent && !kept.some((other) => other.name === bone.parent)
          ? { ...bone, parent: biped().find((other) => other.name === bone.parent)?.parent ?? null }
          : bone,
      );

  it.each([
    ['toes', /^toes/, 'leftToes'],
    ['neck', /^neck/, 'neck'],
    ['clavicles', /^collar/, 'leftShoulder'],
    ['hands', /^hand/, 'leftHand'],
  ])('no %s: that role stays vacant and the rest is found', (_, name, role) => {
    const rig = makeRig(without(name), true);
    const match = matchBones(rig, QUAY);
    expect(boneOf(rig, match, role)).toBeNull();
    expect(['hips', 'head', 'leftUpperArm', 'rightFoot'].map((each) => boneOf(rig, match, each))).toEqual([
      'hips',
      'head',
      'upper_arm_l',
      'foot_r',
    ]);
    expect(match.creature.isHumanoid).toBe(true);
  });

  it('no neck: the head hangs on the chest, in words too', () => {
    const rig = makeRig(without(/^neck/), true);
    expect(matchBones(rig, QUAY).assignments.head.evidence).toContain('child of the chest');
  });

  it('a root above the hips is told apart from them; without one there is none', () => {
    const bones = biped();
    const rooted = makeRig(
      [
        { name: 'deck', parent: null, position: [0, 0, 0] },
        ...bones.map((bone) => (bone.parent === null ? { ...bone, parent: 'deck' } : bone)),
      ],
      true,
    );
    expect(matchBones(rooted, QUAY).rootBone).toBe(0);
    expect(matchBones(makeRig(bones, true), QUAY).rootBone).toBe(-1);
  });
});

describe('sides and fronts', () => {
  it('follow what a person says the front is', () => {
    const rig = nameless(biped().filter(({ name }) => !name.startsWith('toes')));
    const ahead = matchBones(rig, QUAY, { facing: [0, 0, 1] });
    const behind = matchBones(rig, QUAY, { facing: [0, 0, -1] });
    expect([ahead, behind].map((match) => boneOf(rig, match, 'leftHand'))).toEqual(['hand_l', 'hand_r']);
    expect(behind.frame.facing[2]).toBeCloseTo(-1, 3);
    // Toes, eyes and digits go with the limb they hang on.
    const toed = nameless(biped(both('eye', 'head', [0.03, 1.64, 0.08])));
    const turned = matchBones(toed, QUAY, { facing: [0, 0, -1] });
    expect(['leftToes', 'leftFoot', 'rightUpperLeg'].map((role) => boneOf(toed, turned, role))).toEqual([
      'toes_r',
      'foot_r',
      'thigh_l',
    ]);
  });

  it('follow marks that a person names, in place of those the dialect knows', () => {
    const swap = (name: string) => name.replace(/_l$/, '_luv').replace(/_r$/, '_lee');
    const rig = makeRig(
      biped([], swap).map((bone) => ({ ...bone, position: [bone.position[0], bone.position[1], 0] })),
    );
    const marked = matchBones(rig, QUAY, { sideMarks: { left: 'lee', right: 'luv' } });
    expect(boneOf(rig, marked, 'leftHand')).toBe('hand_lee');
    const other = matchBones(rig, QUAY, { sideMarks: { left: 'luv', right: 'lee' } });
    expect(boneOf(rig, other, 'leftHand')).toBe('hand_luv');
  });

  it('names that contradict the body are said to be swapped, and the body is followed', () => {
    const crossed = (name: string) => (name.endsWith('_l') ? name.replace(/_l$/, '_r') : name.replace(/_r$/, '_l'));
    const rig = makeRig(biped([...both('eye', 'head', [0.03, 1.64, 0.08])], crossed), true);
    const match = matchBones(rig, QUAY);
    expect(match.frame.namesAreSwapped).toBe(true);
    expect(boneOf(rig, match, 'leftHand')).toBe('hand_r');
    expect(match.assignments.leftHand.confidence).toBeLessThan(0.995);
  });
});

describe('what is no humanoid', () => {
  it('keeps at most half the confidence: nothing is proposed', () => {
    const match = matchBones(makeRig(muleBones()), QUAY);
    expect(match.creature.isHumanoid).toBe(false);
    for (const { confidence, state, runnersUp } of Object.values(match.assignments)) {
      expect(confidence).toBeLessThanOrEqual(0.5);
      expect(state).toBe('doubtful');
      for (const other of runnersUp) expect(other.confidence).toBeLessThanOrEqual(0.5);
    }
  });

  it("without a body has the file's own axes, no roles, and every bone spare", () => {
    const bones = lanternBones();
    const match = matchBones(makeRig(bones), QUAY);
    expect(match.assignments).toEqual({});
    expect(match.rootBone).toBe(-1);
    expect(match.frame).toEqual({
      up: [0, 1, 0],
      facing: [0, 0, 1],
      left: [1, 0, 0],
      confidence: 0,
      namesAreSwapped: false,
      reasons: ["no figure was found; the file's own axes are used"],
    });
    expect(match.spares.map(({ boneIndex }) => boneIndex).sort((a, b) => a - b)).toEqual(bones.map((_, at) => at));
  });
});

describe('parts beside the search', () => {
  it('toes are no surer than the foot they hang on', () => {
    const { assignments } = matchBones(nameless(biped()), QUAY);
    expect(assignments.leftToes.confidence).toBeLessThanOrEqual(assignments.leftFoot.confidence);
    // With a second candidate in the same place they are less sure than with one.
    const twice = matchBones(nameless(biped(both('extra', 'foot*', [0.12, 0.02, 0.1]))), QUAY).assignments;
    expect(twice.leftToes.confidence).toBeLessThan(assignments.leftToes.confidence);
  });

  it('digits are no surer than the hand, and the last one may be an end bone', () => {
    const digits = ['a', 'b', 'c'].flatMap((digit, at) => [
      ...both(`${digit}1`, 'hand*', [0.77, 1.42, 0.03 - at * 0.025]),
      ...both(`${digit}2`, `${digit}1*`, [0.8, 1.42, 0.03 - at * 0.025]),
      ...both(`${digit}3`, `${digit}2*`, [0.83, 1.42, 0.03 - at * 0.025]),
    ]);
    const { assignments } = matchBones(nameless(biped(digits)), QUAY);
    const fingers = Object.values(assignments).filter(({ role }) => /Proximal|Intermediate|Distal/.test(role));
    expect(fingers.length).toBeGreaterThanOrEqual(12);
    for (const { confidence } of fingers) expect(confidence).toBeLessThanOrEqual(assignments.leftHand.confidence);
    expect(assignments.leftMiddleDistal.confidence / assignments.leftMiddleProximal.confidence).toBeCloseTo(0.95, 6);
    expect(assignments.leftMiddleIntermediate.confidence).toBe(assignments.leftMiddleProximal.confidence);
  });

  it('without names, bones that move nothing are no toes', () => {
    const toes = (rig: Rig) =>
      matchBones({ ...rig, bones: rig.bones.map((bone) => ({ ...bone, isNamed: false })) }, QUAY).assignments.leftToes;
    const rig = makeRig(biped(), true);
    expect(toes(rig)).toBeDefined();
    expect(toes(weightless(rig, /^toes/))).toBeUndefined();
  });
});
