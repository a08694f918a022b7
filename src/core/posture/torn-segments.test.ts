import { expect, it } from 'vitest';
import { biped } from '../../../tests/helpers/named-biped';
import { makeRig } from '../../../tests/helpers/rig-maker';
import { QUAY } from '../definition/quay';
import { initialFit, roleBonesOf } from '../fit/fit';
import { runFirstPass } from '@/pipeline/match';
import { fromAxisAngle } from '../math/quat';
import { computeWorlds } from '../rig/pose';
import { alignPosture, carriesItsEnd } from './align-posture';

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
