import { describe, expect, it } from 'vitest';
import { QUAY } from '../definition/quay';
import { biped, both, weightless } from '../../../tests/helpers/named-biped';
import { makeRig, type PlainBone } from '../../../tests/helpers/rig-maker';
import type { Rig } from '../rig/rig';
import { matchBones } from './match-bones';

const found = (rig: Rig) => (role: string) => {
  const match = matchBones(rig, QUAY).assignments[role];
  return match ? rig.bones[match.boneIndex].name : null;
};
const spareKind = (rig: Rig, name: string) =>
  matchBones(rig, QUAY).spares.find((spare) => rig.bones[spare.boneIndex].name === name)?.kind;

describe('known traps', () => {
  it('an elbow helper is not the forearm, nor a knee helper the shin', () => {
    const rig = makeRig(
      biped([...both('elbow', 'upper_arm*', [0.44, 1.42, -0.03]), ...both('knee', 'thigh*', [0.09, 0.5, 0.03])]),
      true,
    );
    expect([found(rig)('leftLowerArm'), found(rig)('rightLowerLeg')]).toEqual(['forearm_l', 'shin_r']);
  });

  it('a twist bone is not the limb, beside it or in its chain', () => {
    const rig = makeRig(
      biped([
        ...both('forearm_twist', 'forearm*', [0.56, 1.42, -0.015]),
        ...both('upper_arm_twist', 'upper_arm*', [0.3, 1.42, -0.015]),
      ]),
      true,
    );
    expect([found(rig)('leftLowerArm'), found(rig)('leftHand'), spareKind(rig, 'forearm_twist_l')]).toEqual([
      'forearm_l',
      'hand_l',
      'twist',
    ]);
  });

  it('eyes and jaw are not the head, nor the head an eye', () => {
    const rig = makeRig(
      biped([{ name: 'jaw', parent: 'head', position: [0, 1.58, 0.04] }, ...both('eye', 'head', [0.03, 1.64, 0.08])]),
      true,
    );
    expect(['head', 'jaw', 'leftEye', 'rightEye'].map(found(rig))).toEqual(['head', 'jaw', 'eye_l', 'eye_r']);
  });

  it('a toe joint wins over a helper at the same place', () => {
    const rig = weightless(makeRig(biped(both('ball_helper', 'foot*', [0.1, 0.02, 0.1])), true), /helper/);
    expect(found(rig)('leftToes')).toBe('toes_l');
  });

  it('targets that lie on hands and feet are controls', () => {
    const rig = weightless(
      makeRig(
        biped([...both('target', 'hips', [0.68, 1.42, -0.01]), ...both('step', 'hips', [0.09, 0.09, -0.02])], (name) =>
          name.replace('target', 'q').replace('step', 'w'),
        ),
        true,
      ),
      /^[qw]_/,
    );
    expect([found(rig)('leftHand'), found(rig)('leftFoot'), spareKind(rig, 'q_l'), spareKind(rig, 'w_r')]).toEqual([
      'hand_l',
      'foot_l',
      'control',
      'control',
    ]);
  });

  it('a fingertip end bone is no fourth joint, a metacarpal no first one', () => {
    const finger = (name: string, z: number) => [
      ...both(`${name}_metacarpal`, 'hand*', [0.7, 1.42, z * 0.6]),
      ...both(`${name}1`, `${name}_metacarpal*`, [0.78, 1.42, z]),
      ...both(`${name}2`, `${name}1*`, [0.82, 1.42, z]),
      ...both(`${name}3`, `${name}2*`, [0.845, 1.42, z]),
      ...both(`${name}_end`, `${name}3*`, [0.865, 1.42, z]),
    ];
    const thumb = [
      ...both('thumb0', 'hand*', [0.705, 1.41, 0.03]),
      ...both('thumb1', 'thumb0*', [0.735, 1.4, 0.055]),
      ...both('thumb2', 'thumb1*', [0.755, 1.4, 0.07]),
    ];
    const rig = weightless(
      makeRig(biped([...thumb, ...finger('index', 0.02), ...finger('middle', 0), ...finger('ring', -0.02)]), true),
      /_end/,
    );
    expect(
      [
        'leftThumbMetacarpal',
        'leftThumbProximal',
        'leftThumbDistal',
        'leftIndexProximal',
        'leftIndexDistal',
        'rightRingProximal',
        'leftLittleProximal',
      ].map(found(rig)),
    ).toEqual(['thumb0_l', 'thumb1_l', 'thumb2_l', 'index1_l', 'index3_l', 'ring1_r', null]);
    expect(spareKind(rig, 'index_end_l')).toBe('tip');
  });

  it('tail, ears, hair and skirt are not taken for the body', () => {
    const tail = ['tail1', 'tail2', 'tail3'].map((name, at): PlainBone => ({
      name,
      parent: at === 0 ? 'hips' : `tail${at}`,
      position: [0, 0.93 - at * 0.05, -0.1 - at * 0.08],
    }));
    const rig = makeRig(
      biped([
        ...tail,
        ...both('ear', 'head', [0.07, 1.75, 0]),
        { name: 'braid', parent: 'head', position: [0, 1.6, -0.12] },
        ...both('skirt', 'hips', [0.13, 0.85, 0.05]),
      ]),
      true,
    );
    expect(['hips', 'head', 'leftUpperLeg', 'neck'].map(found(rig))).toEqual(['hips', 'head', 'thigh_l', 'neck']);
    for (const name of ['tail2', 'ear_l', 'braid', 'skirt_r']) expect(spareKind(rig, name)).toBe('dangling');
  });

  it('a neck split in two gives the lower one the role and keeps the other in the run', () => {
    const bones = biped().map((bone) => (bone.name === 'head' ? { ...bone, parent: 'neck2' } : bone));
    bones.splice(4, 0, { name: 'neck2', parent: 'neck', position: [0, 1.52, -0.005] });
    const rig = makeRig(bones, true);
    const line = matchBones(rig, QUAY).lines.find((entry) => entry.lineId === 'neckHead');
    expect(line?.bones.map((bone) => rig.bones[bone].name)).toEqual(['neck', 'neck2', 'head']);
    expect(line?.anchors).toEqual({ neck: 0, head: 2 });
  });

  it('a word that means another part in this rig follows the tree: arm for clavicle, hip for thigh', () => {
    const words: Record<string, string> = {
      collar: 'arm',
      upper_arm: 'shoulder',
      forearm: 'elbow',
      hand: 'wrist',
      thigh: 'hip',
      shin: 'knee',
      foot: 'ankle',
      toes: 'ball',
      hips: 'pelvis',
    };
    const rig = makeRig(
      biped([], (name) => {
        const [, part = name, side] = /^(.*)_([lr])$/.exec(name) ?? [];
        return [words[part] ?? part, side].filter(Boolean).join('_');
      }),
      true,
    );
    expect(
      [
        'hips',
        'leftShoulder',
        'leftUpperArm',
        'leftLowerArm',
        'leftHand',
        'rightUpperLeg',
        'rightLowerLeg',
        'rightFoot',
        'rightToes',
      ].map(found(rig)),
    ).toEqual(['pelvis', 'arm_l', 'shoulder_l', 'elbow_l', 'wrist_l', 'hip_r', 'knee_r', 'ankle_r', 'ball_r']);
  });

  it('without neck, clavicles or toes the rest keeps its place and the roles stay vacant', () => {
    const bones = biped()
      .filter((bone) => !/^(neck|collar|toes)/.test(bone.name))
      .map((bone) => ({
        ...bone,
        parent: bone.parent === 'neck' ? 'chest' : (bone.parent?.replace(/^collar_[lr]$/, 'chest') ?? null),
      }));
    const rig = makeRig(bones, true);
    expect(['neck', 'leftShoulder', 'leftToes', 'head', 'leftUpperArm', 'leftFoot'].map(found(rig))).toEqual([
      null,
      null,
      null,
      'head',
      'upper_arm_l',
      'foot_l',
    ]);
  });
});
