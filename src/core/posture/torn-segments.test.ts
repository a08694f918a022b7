import { expect, it } from 'vitest';
import { biped } from '../../../tests/helpers/named-biped';
import { makeRig } from '../../../tests/helpers/rig-maker';
import { QUAY } from '../definition/quay';
import { initialFit, roleBonesOf } from '../fit/fit';
import { runFirstPass } from '@/pipeline/match';
import { fromAxisAngle } from '../math/quat';
import { invertAffine, transformPoint, type Mat4 } from '../math/mat4';
import type { Vec3 } from '../math/vec3';
import { NO_FACTS } from '../checks/finding';
import { computeWorlds } from '../rig/pose';
import { alignPosture } from './align-posture';
import { findTears } from './tears';
import { carriesItsEnd } from './align-order';

it('a forearm whose hand hangs on nothing is left, and what does carry its end is aligned', () => {
  const loose = biped().map((bone) => (bone.name === 'hand_l' ? { ...bone, parent: null } : bone));
  const rig = makeRig(loose);
  const first = runFirstPass(makeRig(biped()), QUAY);
  const byName = new Map(rig.bones.map(({ name, index }) => [name, index]));
  const names = makeRig(biped()).bones.map(({ name }) => name);
  const roleBones = new Map(
    [...roleBonesOf(initialFit(first.match, QUAY))].map(([role, bone]) => [role, byName.get(names[bone]) as number]),
  );
  const input = { rig, definition: QUAY, normalisation: first.normalisation, roleBones };
  expect(carriesItsEnd(input, 'leftLowerArm')).toBe(false);
  expect(carriesItsEnd(input, 'rightLowerArm')).toBe(true);

  const bent = fromAxisAngle([0, 0, 1], 0.5);
  const bones = ['leftLowerArm', 'rightLowerArm'].map((role) => roleBones.get(role) as number);
  const start = { rotations: { [bones[0]]: bent, [bones[1]]: bent }, shift: null };
  const aligned = alignPosture(input, start);
  expect(aligned.rotations[bones[0]]).toEqual(bent);
  expect(aligned.rotations[bones[1]]).not.toEqual(bent);
  // The hand stays where the file has it.
  const hand = byName.get('hand_l') as number;
  expect(computeWorlds(rig, aligned)[hand].slice(12, 15)).toEqual(rig.bones[hand].restWorld.slice(12, 15));
});

it('a hand that stays behind while its forearm is turned is torn off, by as much as it is', () => {
  const rest = makeRig(biped());
  const first = runFirstPass(rest, QUAY);
  const roleBones = roleBonesOf(initialFit(first.match, QUAY));
  const loose = biped().map((bone) => (bone.name === 'hand_l' ? { ...bone, parent: null } : bone));
  const rig = makeRig(loose);
  const byName = new Map(rig.bones.map(({ name, index }) => [name, index]));
  const moved = new Map([...roleBones].map(([role, bone]) => [role, byName.get(rest.bones[bone].name) as number]));
  const input = { rig, definition: QUAY, normalisation: first.normalisation, roleBones: moved };
  const [arm, hand] = ['upper_arm_l', 'hand_l'].map((name) => byName.get(name) as number);
  const bent = { rotations: { [arm]: fromAxisAngle([0, 0, 1], -1) }, shift: null };
  expect(findTears(input, computeWorlds(rig, { rotations: {}, shift: null }))).toEqual([]);
  const tears = findTears(input, computeWorlds(rig, bent));
  // The hand lies 0.51 m from the shoulder joint: turned by a radian its place is 2 * sin(0.5) * 0.51 m away.
  expect(tears).toEqual([expect.objectContaining({ bones: [byName.get('forearm_l'), hand], shownBy: 'joint' })]);
  expect(tears[0].metres).toBeCloseTo(2 * Math.sin(0.5) * 0.51, 4);
  // The same figure whose hand hangs on its arm goes along.
  const whole = { ...input, rig: rest, roleBones };
  const turned = { rotations: { [roleBones.get('leftUpperArm') as number]: bent.rotations[arm] }, shift: null };
  expect(findTears(whole, computeWorlds(rest, turned))).toEqual([]);
});

it('a mesh that is torn between two bones shows it, wherever they hang', () => {
  const rig = makeRig(biped());
  const first = runFirstPass(rig, QUAY);
  const roleBones = roleBonesOf(initialFit(first.match, QUAY));
  const [chest, arm] = ['chest', 'leftUpperArm'].map((role) => roleBones.get(role) as number);
  const at = (bone: number, point: Vec3): [number, number, number] => {
    const inverse = invertAffine(rig.bones[bone].restWorld);
    const [x, y, z] = transformPoint(inverse as Mat4, point);
    return [x, y, z];
  };
  const seamAt = (point: Vec3) => ({
    ...rig,
    facts: {
      ...(rig.facts ?? NO_FACTS),
      seams: [
        { bones: [chest, arm] as [number, number], places: [at(chest, point), at(arm, point)] as never, edges: 12 },
      ],
    },
  });
  const pose = { rotations: { [arm]: fromAxisAngle([0, 0, 1], -1) }, shift: null };
  const tears = (point: Vec3) => {
    const figure = seamAt(point);
    return findTears(
      { rig: figure, definition: QUAY, normalisation: first.normalisation, roleBones },
      computeWorlds(figure, pose),
    );
  };
  // A sleeve that goes over at the shoulder holds; one that is bound to the chest at the wrist does not.
  expect(tears([0.17, 1.42, -0.01])).toEqual([]);
  expect(tears([0.67, 1.42, -0.01])[0]?.metres).toBeCloseTo(2 * Math.sin(0.5) * 0.5, 4);
});
