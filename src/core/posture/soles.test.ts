import { beforeAll, describe, expect, it } from 'vitest';
import { readGeometry } from '@/document/read-geometry';
import { runFirstPass } from '@/pipeline/match';
import { readGlb } from '@/pipeline/read-files';
import { harbourDiver } from '../../../demo/cast/harbour-diver';
import { lamplighter } from '../../../demo/cast/lamplighter';
import { writeFigure } from '../../../demo/figure/write-figure';
import { QUAY } from '../definition/quay';
import { initialFit, roleBonesOf } from '../fit/fit';
import type { Geometry } from '../geometry/geometry';
import { angleBetween, distance, type Vec3 } from '../math/vec3';
import { computeWorlds, REST_POSE, type RigPose } from '../rig/pose';
import { alignPosture } from './align-posture';
import type { AlignInput } from './align-order';
import { measureClearance, selectClearance } from './clearance';
import { bendStraightLimbs, foldLimb } from './fold-limb';
import { limbHinges } from './hinges';
import { computeRoleFrames } from './role-frames';
import { legDifference, levelSoles, measureSoles, selectFeet } from './soles';
import { turnAngle } from './turn-angle';
import { TURN_AXES, turnRoles } from './turn-roles';

interface Subject extends AlignInput {
  geometry: Geometry;
}
async function subjectOf(make: () => Parameters<typeof writeFigure>[0], name: string): Promise<Subject> {
  const { rig, document } = await readGlb(await writeFigure(make()), name);
  const first = runFirstPass(rig, QUAY);
  const roleBones = roleBonesOf(initialFit(first.match, QUAY));
  return {
    rig,
    normalisation: first.normalisation,
    definition: QUAY,
    roleBones,
    geometry: readGeometry(document, rig, name),
  };
}
let lamp: Subject;
let diver: Subject;
beforeAll(async () => {
  [lamp, diver] = await Promise.all([subjectOf(lamplighter, 'lamplighter'), subjectOf(harbourDiver, 'diver')]);
});

const DEGREE = Math.PI / 180;
const turned = (
  input: AlignInput,
  role: string,
  about: 'left' | 'front' | 'hinge',
  degrees: number,
  start: RigPose = REST_POSE,
) => turnRoles(input, start, { roles: new Set([role]), about, radians: degrees * DEGREE });
const placeOf = (input: AlignInput, pose: RigPose, role: string): Vec3 => {
  const world = computeWorlds(input.rig, pose)[input.roleBones.get(role) as number];
  return [world[12], world[13], world[14]];
};
const rest = (input: AlignInput) => [input.rig.bones.map(({ restWorld }) => restWorld)];

describe('soles', () => {
  it('measure how a foot was tipped, and put it flat again', () => {
    const feet = selectFeet(lamp, lamp.geometry);
    const [before] = measureSoles(lamp, feet, REST_POSE);
    const tipped = turned(lamp, 'leftFoot', 'left', 11);
    const [sole] = measureSoles(lamp, feet, tipped);
    expect(sole.side).toBe('left');
    // A rounded sole rests on other vertices once it is tipped.
    expect(Math.abs((before.pitchRad - sole.pitchRad) / DEGREE - 11)).toBeLessThan(2);
    const level = levelSoles(lamp, feet, tipped, { floor: 0, bendsLonger: false });
    for (const { pitchRad, rollRad, height } of measureSoles(lamp, feet, level)) {
      expect(Math.abs(pitchRad) / DEGREE).toBeLessThan(0.1);
      expect(Math.abs(rollRad) / DEGREE).toBeLessThan(0.1);
      expect(height).toBeCloseTo(0, 5);
    }
  });

  it('say which leg is longer, and stand on both once that knee is bent, feet flat, ankles over their places', () => {
    const feet = selectFeet(lamp, lamp.geometry);
    expect(legDifference(lamp, feet, REST_POSE)).toBeNull();
    // A bent knee stands for a shorter leg: the other one is the longer by as much.
    const hinge = limbHinges(lamp, REST_POSE, rest(lamp)).find(
      ({ limb }) => limb.side === 'right' && limb.part === 'Leg',
    );
    if (!hinge) throw new Error('no knee');
    const far = distance(placeOf(lamp, REST_POSE, 'rightUpperLeg'), placeOf(lamp, REST_POSE, 'rightFoot'));
    const short = foldLimb(lamp, REST_POSE, hinge, far - 0.03);
    const found = legDifference(lamp, feet, short);
    expect(found?.longer).toBe('left');
    expect(found?.metres).toBeCloseTo(0.03, 3);
    const one = levelSoles(lamp, feet, short, { floor: 0, bendsLonger: false });
    expect(measureSoles(lamp, feet, one).map(({ height }) => height)[1]).toBeCloseTo(0.03, 3);
    const both = levelSoles(lamp, feet, short, { floor: 0, bendsLonger: true });
    for (const { height, pitchRad } of measureSoles(lamp, feet, both)) {
      expect(Math.abs(height)).toBeLessThan(5e-4);
      expect(Math.abs(pitchRad) / DEGREE).toBeLessThan(0.1);
    }
  });
});

describe('limbs that fold', () => {
  it('are bent by the law of cosines, forward at the knee, the end on its line and turned as it was', () => {
    for (const [part, side] of [
      ['Leg', 'left'],
      ['Arm', 'right'],
    ] as const) {
      const aligned = alignPosture(lamp, REST_POSE);
      const hinge = limbHinges(lamp, aligned, []).find(({ limb }) => limb.part === part && limb.side === side);
      if (!hinge) throw new Error('no hinge');
      expect(hinge.shownBy).toBe('assumed');
      const [top, middle, end] = [
        `${side}Upper${part}`,
        `${side}Lower${part}`,
        `${side}${part === 'Leg' ? 'Foot' : 'Hand'}`,
      ];
      const [root, tip] = [placeOf(lamp, aligned, top), placeOf(lamp, aligned, end)];
      const far = distance(root, tip) * 0.9;
      const folded = foldLimb(lamp, aligned, hinge, far);
      const now = placeOf(lamp, folded, end);
      expect(distance(root, now)).toBeCloseTo(far, 5);
      expect(
        angleBetween(
          [now[0] - root[0], now[1] - root[1], now[2] - root[2]],
          [tip[0] - root[0], tip[1] - root[1], tip[2] - root[2]],
        ),
      ).toBeLessThan(1e-6);
      // Knees go ahead, elbows behind.
      expect(Math.sign(placeOf(lamp, folded, middle)[2] - placeOf(lamp, aligned, middle)[2])).toBe(
        part === 'Leg' ? 1 : -1,
      );
      const frames = [aligned, folded].map((pose) =>
        computeRoleFrames({ ...lamp, worlds: computeWorlds(lamp.rig, pose) }),
      );
      const [was, is] = frames.map((each) => each.get(end)?.direction as Vec3);
      expect(angleBetween(was, is)).toBeLessThan(1e-6);
    }
  });

  it('show their hinge in another pose of the file where the pose itself is straight', () => {
    const aligned = alignPosture(lamp, REST_POSE);
    const bent = computeWorlds(lamp.rig, turned(lamp, 'leftLowerLeg', 'hinge', 40, aligned));
    const found = limbHinges(lamp, aligned, [bent]).find(({ limb }) => limb.side === 'left' && limb.part === 'Leg');
    expect(found?.shownBy).toBe('elsewhere');
    expect(found?.hinge[0]).toBeGreaterThan(0.99);
  });

  it('get the small bend all together, soles flat and on the floor', () => {
    const feet = selectFeet(lamp, lamp.geometry);
    const aligned = levelSoles(lamp, feet, alignPosture(lamp, REST_POSE), { floor: 0, bendsLonger: false });
    const bent = bendStraightLimbs(lamp, aligned);
    for (const { bendRad, limb } of limbHinges(lamp, bent, []))
      expect(bendRad / DEGREE, `${limb.side} ${limb.part}`).toBeCloseTo(3, 3);
    for (const { height, pitchRad } of measureSoles(lamp, feet, bent)) {
      expect(Math.abs(height)).toBeLessThan(1e-4);
      expect(Math.abs(pitchRad) / DEGREE).toBeLessThan(0.05);
    }
  });
});

describe('room for the arms', () => {
  it('there is some beside a slim body; a heavy suit wants its arms held away, and gets room by as much', () => {
    const roomOf = (subject: Subject) => {
      const selected = selectClearance(subject, subject.geometry);
      if (!selected) throw new Error('nothing to measure on');
      return measureClearance(subject, selected, alignPosture(subject, REST_POSE), 1.8);
    };
    const heavy = roomOf(diver);
    expect(heavy).toHaveLength(2);
    for (const { metres, offsetDeg } of heavy) {
      expect(metres).toBeLessThan(0);
      expect(offsetDeg).toBeGreaterThan(3);
      expect(offsetDeg).toBeLessThanOrEqual(45);
    }
    for (const { metres } of roomOf(lamp)) expect(metres).toBeGreaterThan(heavy[0].metres);
    // One body, mirrored: both sides say the same.
    expect(heavy[0].metres).toBeCloseTo(heavy[1].metres, 2);
  });
});

describe('the angle about an axis', () => {
  it('rises by what a segment is turned, on both sides and about every axis', () => {
    const aligned = alignPosture(lamp, REST_POSE);
    const off = turnRoles(lamp, aligned, {
      roles: new Set(['leftUpperArm', 'rightUpperArm']),
      about: 'front',
      radians: -0.6,
    });
    for (const about of TURN_AXES) {
      for (const role of ['leftLowerArm', 'rightLowerArm', 'leftLowerLeg']) {
        const angle = (pose: RigPose) => turnAngle({ ...lamp, worlds: computeWorlds(lamp.rig, pose) }, role, about);
        const start = turned(lamp, role, 'hinge', 20, off);
        const before = angle(start);
        const after = angle(turnRoles(lamp, start, { roles: new Set([role]), about, radians: 0.2 }));
        if (before === null || after === null) {
          expect(about).toBe('bone');
          continue;
        }
        expect(after - before, `${role} about ${about}`).toBeCloseTo(0.2, 6);
      }
    }
  });
});
