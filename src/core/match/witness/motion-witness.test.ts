import { describe, expect, it } from 'vitest';
import { plainBiped } from '../../../../tests/helpers/plain-biped';
import { makeRig, type PlainBone } from '../../../../tests/helpers/rig-maker';
import { QUAY } from '../../definition/quay';
import { fromAxisAngle } from '../../math/quat';
import type { Vec3 } from '../../math/vec3';
import type { MotionTracks, Track } from '../../clips/motion-tracks';
import type { Rig } from '../../rig/rig';
import { matchBones } from '../match-bones';
import { foldAlong, jointMotion, travelOf } from './limb-motion';
import { strayOf, witnessOf, witnessSource } from './motion-witness';

/** Thigh, shin, foot from the hips down, and a twist bone on the thigh. */
const LEG: readonly PlainBone[] = [
  { name: 'hips', parent: null, position: [0, 1, 0] },
  { name: 'thigh', parent: 'hips', position: [0.1, 0.95, 0] },
  { name: 'twist', parent: 'thigh', position: [0.1, 0.75, 0] },
  { name: 'shin', parent: 'thigh', position: [0.1, 0.5, 0] },
  { name: 'foot', parent: 'shin', position: [0.1, 0.1, 0] },
];
const at = (rig: Rig, name: string) => rig.bones.findIndex((bone) => bone.name === name);

/** A rotation of a bone about an axis to and fro, by so many radians at the middle of a second. */
const turning = (bone: number, axis: Vec3, radians: number): Track => ({
  bone,
  path: 'rotation',
  interpolation: 'LINEAR',
  times: Float32Array.of(0, 0.5, 1),
  values: Float32Array.from([0, radians, 0].flatMap((angle) => [...fromAxisAngle(axis, angle)])),
});
const going = (bone: number, from: Vec3, way: Vec3): Track => ({
  bone,
  path: 'translation',
  interpolation: 'LINEAR',
  times: Float32Array.of(0, 1),
  values: Float32Array.from([...from, from[0] + way[0], from[1] + way[1], from[2] + way[2]]),
});
const clip = (...tracks: Track[]): MotionTracks => [{ name: 'made', tracks, morphs: [] }];

describe('what clips show', () => {
  const rig = makeRig(LEG);
  const [hips, thigh, twist, shin, foot] = ['hips', 'thigh', 'twist', 'shin', 'foot'].map((name) => at(rig, name));
  const bent = witnessOf(
    rig,
    clip(turning(thigh, [1, 0, 0], -0.5), turning(shin, [1, 0, 0], 1), turning(twist, [0, 1, 0], 0.6)),
  );

  it('nothing without motion', () => {
    expect(witnessOf(rig, [])).toBeNull();
    expect(witnessOf(rig, clip(turning(shin, [1, 0, 0], 0)))).toBeNull();
    expect(witnessSource(rig, null)()).toBeNull();
  });

  it('what rides on what', () => {
    if (!bent) throw new Error('no witness');
    expect(strayOf(bent, thigh, shin)).toBeCloseTo(0, 6);
    expect(strayOf(bent, shin, foot)).toBeCloseTo(0, 6);
    expect(strayOf(bent, hips, shin)).toBeGreaterThan(0.05);
    // What leads does not ride on what it leads.
    expect(strayOf(bent, shin, hips)).toBeGreaterThan(0.05);
  });

  it('which way a knee folds, with a foot below it and without', () => {
    if (!bent) throw new Error('no witness');
    for (const end of [foot, -1]) {
      const leg = { upper: thigh, lower: shin, end, body: hips };
      expect(foldAlong(bent, leg, [0, 0, 1])).toBeGreaterThan(0.05);
      expect(foldAlong(bent, leg, [0, 0, -1])).toBeLessThan(-0.05);
      expect(Math.abs(foldAlong(bent, leg, [1, 0, 0]))).toBeLessThan(0.01);
    }
  });

  it('hinges and twists', () => {
    if (!bent) throw new Error('no witness');
    const [knee, rolled] = [jointMotion(bent, thigh, shin, foot), jointMotion(bent, thigh, twist, shin)];
    expect(knee.twist).toBeCloseTo(0, 3);
    expect(rolled.twist).toBeCloseTo(1, 3);
    expect(knee.most).toBeGreaterThan(0.8);
  });

  it('where a figure goes', () => {
    const walked = witnessOf(rig, clip(going(hips, [0, 1, 0], [0, 0, 2])));
    expect(walked && travelOf(walked, hips)).toEqual([0, 0, 2]);
  });
});

describe('a figure that shows no front', () => {
  const rig = makeRig(plainBiped());
  const { assignments, frame } = matchBones(rig, QUAY);
  const kneesFoldAhead = (sign: 1 | -1) =>
    clip(
      ...['leftLowerLeg', 'rightLowerLeg'].map((role) => turning(assignments[role].boneIndex, [1, 0, 0], 0.9 * sign)),
    );

  it('is told by how its knees fold', () => {
    expect(frame.confidence).toBeLessThan(0.75);
    for (const sign of [1, -1] as const) {
      const told = matchBones(rig, QUAY, { motion: kneesFoldAhead(sign) });
      expect(told.frame.facing[2]).toBeCloseTo(sign, 3);
      expect(told.frame.confidence).toBeGreaterThan(0.9);
      expect(told.frame.reasons).toContain('in the clips the knees fold with their joints ahead');
      expect(rig.bones[told.assignments.leftUpperLeg.boneIndex].restWorld[12] * sign).toBeGreaterThan(0);
      expect(told.assignments.leftUpperLeg.state).toBe('proposed');
    }
  });

  it('is told by the way it goes', () => {
    const walks = matchBones(rig, QUAY, {
      motion: clip(going(assignments.hips.boneIndex, [0, 0.95, 0], [0, 0, -1.5])),
    });
    expect(walks.frame.facing[2]).toBeCloseTo(-1, 3);
    expect(walks.frame.reasons).toContain('in the clips the figure goes forward');
  });

  it('without clips is read as it is without a word of them', () => {
    expect(matchBones(rig, QUAY, { motion: [] })).toEqual(matchBones(rig, QUAY));
  });
});
