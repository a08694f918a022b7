import { expect, it } from 'vitest';
import { biped } from '../../../tests/helpers/named-biped';
import { makeRig } from '../../../tests/helpers/rig-maker';
import { QUAY } from '../definition/quay';
import { initialFit, roleBonesOf } from '../fit/fit';
import { runFirstPass } from '@/pipeline/match';
import { fromAxisAngle, multiply, type Quat } from '../math/quat';
import type { Vec3 } from '../math/vec3';
import { computeWorlds } from '../rig/pose';
import { measurePosture } from './measure-posture';
import { unevenRolls } from './uneven-rolls';

const rig = makeRig(biped());
const first = runFirstPass(rig, QUAY);
const roleBones = roleBonesOf(initialFit(first.match, QUAY));
const input = { rig, definition: QUAY, normalisation: first.normalisation, roleBones };
const DEGREE = Math.PI / 180;

/** Arms with elbows bent by 20 degrees, each turned about itself by so much. */
function rolled(left: number, right: number) {
  const turns: Record<string, Quat> = {};
  const set = (role: string, axis: Vec3, degrees: number) => {
    const bone = roleBones.get(role) as number;
    turns[bone] = multiply(turns[bone] ?? [0, 0, 0, 1], fromAxisAngle(axis, degrees * DEGREE));
  };
  set('leftUpperArm', [1, 0, 0], left);
  set('rightUpperArm', [1, 0, 0], right);
  set('leftLowerArm', [0, 1, 0], -20);
  set('rightLowerArm', [0, 1, 0], 20);
  return measurePosture({ ...input, worlds: computeWorlds(rig, { rotations: turns, shift: null }) });
}

it('names limbs whose sides are rolled unlike one another, and by how much', () => {
  const uneven = unevenRolls(rolled(38, -90), QUAY);
  expect(uneven[0]).toMatchObject({ left: expect.stringMatching(/^left/), right: expect.stringMatching(/^right/) });
  expect(uneven.find(({ left }) => left === 'leftUpperArm')?.differRad).toBeCloseTo(128 * DEGREE, 1);
});

it('is silent where both are rolled alike, the one the mirror of the other', () => {
  expect(unevenRolls(rolled(60, 60), QUAY)).toEqual([]);
});
