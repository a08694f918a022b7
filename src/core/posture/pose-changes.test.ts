import { expect, it } from 'vitest';
import { fromAxisAngle } from '../math/quat';
import { REST_POSE } from '../rig/pose';
import { makeRig } from '../../../tests/helpers/rig-maker';
import { biped } from '../../../tests/helpers/named-biped';
import { poseChanges } from './pose-changes';

it('lists what turns, the most first, and leaves out what only looks different', () => {
  const rig = makeRig(biped());
  const turn = (degrees: number) => fromAxisAngle([0, 0, 1], (degrees * Math.PI) / 180);
  const rests = rig.bones.map(({ rest }) => rest.rotation);
  expect(poseChanges(rig, REST_POSE, { rotations: { 3: rests[3], 4: turn(0.01) }, shift: null })).toEqual([]);
  const changes = poseChanges(rig, REST_POSE, { rotations: { 4: turn(12), 5: turn(-40) }, shift: null });
  expect(changes.map(({ boneIndex }) => boneIndex)).toEqual([5, 4]);
  expect(changes.map(({ radians }) => (radians * 180) / Math.PI)).toEqual([
    expect.closeTo(40, 6),
    expect.closeTo(12, 6),
  ]);
  // A quaternion and its negative are one rotation.
  const [x, y, z, w] = turn(40);
  expect(
    poseChanges(rig, { rotations: { 5: turn(40) }, shift: null }, { rotations: { 5: [-x, -y, -z, -w] }, shift: null }),
  ).toEqual([]);
});
