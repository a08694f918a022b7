import { describe, expect, it } from 'vitest';
import { plainBiped } from '../../../../tests/helpers/plain-biped';
import { makeRig, type PlainBone } from '../../../../tests/helpers/rig-maker';
import { QUAY } from '../../definition/quay';
import type { Vec3 } from '../../math/vec3';
import { matchBones } from '../match-bones';

const body = plainBiped({ knees: 0.04, elbows: 0.04 }, ['left', 'right']);
const nameAt = (position: Vec3): string =>
  body.find((bone) => bone.position.every((value, axis) => Math.abs(value - position[axis]) < 1e-6))!.name;
const HEAD = nameAt([0, 1.56, 0]);
const FEET = [nameAt([0.1, 0.08, 0]), nameAt([-0.1, 0.08, 0])] as const;

/** Pairs of added bones, mirrored; `%` in a name stands for the side. */
const pair = (name: string, parent: string | readonly [string, string], [x, y, z]: Vec3): PlainBone[] =>
  [1, -1].map((k, side) => ({
    name: name.replace('%', k > 0 ? 'left' : 'right'),
    parent: (typeof parent === 'string' ? parent : parent[side]).replace('%', k > 0 ? 'left' : 'right'),
    position: [x * k, y, z],
  }));
const match = (added: readonly PlainBone[], loose: readonly string[] = []) => {
  const bones = [...body, ...added];
  const rig = makeRig(bones, true);
  const { assignments } = matchBones(
    {
      ...rig,
      bones: rig.bones.map((bone) =>
        loose.includes(bone.name) ? { ...bone, skinWeight: 0, skinVertexCount: 0 } : bone,
      ),
    },
    QUAY,
  );
  return (role: string) =>
    assignments[role] ? { name: bones[assignments[role].boneIndex].name, state: assignments[role].state } : null;
};

describe('toes', () => {
  it('are the joint ahead of the ankle, without any word for it', () => {
    const of = match(pair('w_%', FEET, [0.1, 0.02, 0.12]));
    expect(of('leftToes')).toEqual({ name: 'w_left', state: 'proposed' });
    expect(of('rightToes')?.name).toBe('w_right');
  });

  it('are not a heel under the ankle, nor an end bone that moves nothing', () => {
    expect(match(pair('w_%', FEET, [0.1, 0.01, 0]))('leftToes')).toBeNull();
    const tips = pair('w_%', FEET, [0.1, 0.02, 0.12]);
    expect(
      match(
        tips,
        tips.map(({ name }) => name),
      )('leftToes'),
    ).toBeNull();
  });

  it('are the ball of the foot, not the end bone behind it', () => {
    const ends = pair('v_%', ['w_left', 'w_right'], [0.1, 0.02, 0.19]);
    const of = match(
      [...pair('w_%', FEET, [0.1, 0.02, 0.12]), ...ends],
      ends.map(({ name }) => name),
    );
    expect(of('leftToes')?.name).toBe('w_left');
  });

  it('stay vacant on a foot that ends at the ankle', () => {
    expect(match([])('leftToes')).toBeNull();
  });
});

describe('the face', () => {
  it('has eyes where a name says so, and where a lone pair lies in front of the head', () => {
    expect(match(pair('%_eye', HEAD, [0.03, 1.66, 0.08]))('leftEye')).toEqual({ name: 'left_eye', state: 'proposed' });
    expect(match(pair('w_%', HEAD, [0.03, 1.66, 0.08]))('leftEye')?.name).toBe('w_left');
  });

  it('has no eyes in ears, nor behind the head', () => {
    expect(match(pair('w_%', HEAD, [0.09, 1.66, 0]))('leftEye')).toBeNull();
    expect(match(pair('%_ear', HEAD, [0.03, 1.66, 0.08]))('leftEye')).toBeNull();
  });

  it('has a jaw by name, and in doubt where a lone bone stands in its place', () => {
    expect(match([{ name: 'jaw', parent: HEAD, position: [0, 1.57, 0.05] }])('jaw')).toEqual({
      name: 'jaw',
      state: 'proposed',
    });
    expect(match([{ name: 'w', parent: HEAD, position: [0, 1.57, 0.05] }])('jaw')).toEqual({
      name: 'w',
      state: 'doubtful',
    });
    expect(match([{ name: 'hat', parent: HEAD, position: [0, 1.75, 0] }])('jaw')).toBeNull();
  });

  it('prefers what is named over what lies there', () => {
    const of = match([
      ...pair('w_%', HEAD, [0.02, 1.7, 0.09]),
      ...pair('%_eye', HEAD, [0.03, 1.66, 0.08]),
      { name: 'nose', parent: HEAD, position: [0, 1.62, 0.1] },
      { name: 'jaw', parent: HEAD, position: [0, 1.57, 0.05] },
    ]);
    expect(of('rightEye')?.name).toBe('right_eye');
    expect(of('jaw')?.name).toBe('jaw');
  });
});
