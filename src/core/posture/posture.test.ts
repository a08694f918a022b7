import { beforeAll, describe, expect, it } from 'vitest';
import { runFirstPass } from '@/pipeline/match';
import type { FirstPass } from '../match/first-pass';
import { QUAY } from '../definition/quay';
import { initialFit, roleBonesOf } from '../fit/fit';
import { distance, type Vec3 } from '../math/vec3';
import { computeWorlds, REST_POSE, type RigPose } from '../rig/pose';
import type { Rig } from '../rig/rig';
import { readGlb } from '@/pipeline/read-files';
import { eelSeller } from '../../../demo/cast/eel-seller';
import { lamplighter } from '../../../demo/cast/lamplighter';
import { netMender } from '../../../demo/cast/net-mender';
import { writeFigure } from '../../../demo/figure/write-figure';
import { turnY, wrapGlb } from '../../../tests/helpers/rig-maker';
import { alignPosture } from './align-posture';
import { classifyPosture } from './classify-posture';
import { measurePosture } from './measure-posture';

interface Subject extends FirstPass {
  rig: Rig;
}
const FIGURES = { lamplighter, 'eel-seller': eelSeller, 'net-mender': netMender };
const subjects: Record<string, Subject> = {};
beforeAll(async () => {
  for (const [name, make] of Object.entries(FIGURES)) {
    const { rig } = await readGlb(await writeFigure(make()), name);
    subjects[name] = { rig, ...runFirstPass(rig, QUAY) };
  }
});

const input = (subject: Subject) => ({
  ...subject,
  definition: QUAY,
  roleBones: roleBonesOf(initialFit(subject.match, QUAY)),
});
const measure = (subject: Subject, pose: RigPose) =>
  measurePosture({ ...input(subject), worlds: computeWorlds(subject.rig, pose) });
const degrees = (rad: number) => (rad * 180) / Math.PI;

describe('posture', () => {
  it('says A-pose with the angle the eel seller was built with', () => {
    const summary = classifyPosture(measure(subjects['eel-seller'], REST_POSE), QUAY);
    expect(summary.class).toBe('A');
    expect(degrees(summary.armsDownRad as number)).toBeGreaterThan(44);
    expect(degrees(summary.armsDownRad as number)).toBeLessThan(48);
    expect(summary.sentence).toMatch(/^A-pose, arms 4\d\.\d degrees down; elbows 1\d\.\d degrees bent/);
  });

  it('says T-pose for the lamplighter', () => {
    expect(classifyPosture(measure(subjects.lamplighter, REST_POSE), QUAY).class).toBe('T');
  });

  it.each(Object.keys(FIGURES))('brings every aligned segment of the %s onto the reference', (name) => {
    const subject = subjects[name];
    const aligned = measure(subject, alignPosture(input(subject), REST_POSE));
    for (const deviation of aligned.deviations) {
      if (deviation.alignment !== 'leave') expect(degrees(deviation.deviationRad), deviation.role).toBeLessThan(0.01);
    }
  });

  it.each(Object.keys(FIGURES))('keeps the bone lengths and the ankle height of the %s', (name) => {
    const subject = subjects[name];
    const pose = alignPosture(input(subject), REST_POSE);
    const [before, after] = [REST_POSE, pose].map((entry) =>
      computeWorlds(subject.rig, entry).map((world): Vec3 => [world[12], world[13], world[14]]),
    );
    const hips = subject.match.assignments.hips.boneIndex;
    for (const bone of subject.rig.bones) {
      // The hips are lifted or lowered; every other bone keeps its distance to its parent.
      if (bone.parent < 0 || bone.index === hips) continue;
      expect(distance(after[bone.index], after[bone.parent])).toBeCloseTo(
        distance(before[bone.index], before[bone.parent]),
        9,
      );
    }
    const lowest = (places: Vec3[]) =>
      Math.min(...['leftFoot', 'rightFoot'].map((role) => places[subject.match.assignments[role].boneIndex][1]));
    expect(lowest(after)).toBeCloseTo(lowest(before), 9);
  });

  it('aligning twice changes nothing more', () => {
    const subject = subjects['eel-seller'];
    const once = alignPosture(input(subject), REST_POSE);
    const twice = alignPosture(input(subject), once);
    for (const [bone, rotation] of Object.entries(once.rotations)) {
      const other = twice.rotations[bone];
      expect(Math.abs(rotation.reduce((sum, value, at) => sum + value * other[at], 0))).toBeCloseTo(1, 9);
    }
  });

  it('aligns only the roles it is given', () => {
    const subject = subjects['eel-seller'];
    const pose = alignPosture(input(subject), REST_POSE, { roles: new Set(['leftUpperArm']) });
    expect(Object.keys(pose.rotations)).toEqual([String(subject.match.assignments.leftUpperArm.boneIndex)]);
  });

  it('never pushes the thumb through the palm: it stays forward of the fingers', () => {
    const subject = subjects['eel-seller'];
    const worlds = computeWorlds(subject.rig, alignPosture(input(subject), REST_POSE));
    const z = (role: string) => worlds[subject.match.assignments[role].boneIndex][14];
    expect(z('leftThumbDistal')).toBeGreaterThan(z('leftIndexProximal'));
  });

  it('measures the same whichever way the file faces', async () => {
    const { rig } = await readGlb(await wrapGlb(await writeFigure(eelSeller()), { rotation: turnY(90) }), 'turned');
    const turned = { rig, ...runFirstPass(rig, QUAY) };
    const plain = new Map(
      measure(subjects['eel-seller'], REST_POSE).deviations.map((deviation) => [deviation.role, deviation]),
    );
    for (const deviation of measure(turned, REST_POSE).deviations) {
      expect(degrees(deviation.deviationRad - (plain.get(deviation.role)?.deviationRad ?? 9))).toBeCloseTo(0, 4);
    }
  });
});
