import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { QUAY } from '@/core/definition/quay';
import { judgeMotion } from '@/core/drill/judge/judge-motion';
import { PoseWatch } from '@/core/drill/judge/pose-watch';
import type { Geometry } from '@/core/geometry/geometry';
import { houseEntry } from '@/core/house/house-set';
import { sampleHouse } from '@/core/house/house-motion';
import { fromAxisAngle } from '@/core/math/quat';
import { NO_ROOT_TRAVEL } from '@/core/motion/carry-options';
import type { CarryTarget } from '@/core/motion/carry-plan';
import { drillLimitsOf } from '@/core/profile/profile';
import { TIDEWATER } from '@/core/profile/shipped';
import { turnRoleBy } from '@/core/posture/turn-roles';
import { readGeometry } from '@/document/read-geometry';
import { readCarryCharacter, type CarryCharacter } from '@/pipeline/carry';
import { readSource } from '@/pipeline/read-files';

const walk = sampleHouse(houseEntry('walk').make(houseEntry('walk').settings), QUAY, 60);
const limits = drillLimitsOf(TIDEWATER);
let character: CarryCharacter;
let geometry: Geometry;
beforeAll(async () => {
  const bytes = new Uint8Array(readFileSync('demo/files/lamplighter.glb'));
  const reading = await readSource({ path: 'lamplighter.glb', bytes }, []);
  geometry = readGeometry(reading.document, reading.rig, 'lamplighter.glb');
  character = readCarryCharacter(reading, QUAY, 'lamplighter.glb');
});

const withFoot = (degrees: number): CarryTarget => {
  const { target } = character;
  return {
    ...target,
    pose: turnRoleBy(target, target.pose, 'leftFoot', fromAxisAngle([1, 0, 0], (degrees * Math.PI) / 180)),
  };
};

describe('what is watched while a pose is corrected', () => {
  it('is what the Drill measures: soles and slides in every frame, room in one of four, pose after pose', () => {
    const { carrying } = character;
    const watch = new PoseWatch(walk, { target: withFoot(0), carrying, soles: null }, geometry);
    for (const degrees of [0, 4, -8]) {
      const target = withFoot(degrees);
      const read = watch.measure({ target, carrying, soles: null }, NO_ROOT_TRAVEL, limits);
      const judged = judgeMotion({ target, carrying, motion: walk, travel: NO_ROOT_TRAVEL, geometry, limits });
      expect(read.leg).toBe(judged.leg);
      for (const { name, values } of read.measures) {
        const theirs = judged.measures.find((measure) => measure.name === name);
        if (!theirs) throw new Error(`${name} is not measured by the Drill`);
        const isRoom = /^(hand|arm|knees)/.test(name);
        values.forEach((value, frame) => {
          if (isRoom && frame % 4 !== 0) expect(value).toBeNaN();
          else if (Number.isNaN(theirs.values[frame])) expect(value).toBeNaN();
          // The body's capsules were taken in the first pose.
          else expect(value).toBeCloseTo(theirs.values[frame], isRoom ? 1 : 6);
        });
      }
      const flagged = new Set(judged.flags.map(({ measure }) => measure));
      for (const name of read.out) expect(flagged).toContain(name);
    }
  });

  it('says which measures leave their limits, and follows the pose', () => {
    const { carrying } = character;
    const watch = new PoseWatch(walk, { target: withFoot(0), carrying, soles: null }, geometry);
    const outAt = (degrees: number) =>
      watch.measure({ target: withFoot(degrees), carrying, soles: null }, NO_ROOT_TRAVEL, limits).out;
    expect(outAt(0)).toEqual([]);
    expect(outAt(25)).toContain('sole.left');
    expect(outAt(0)).toEqual([]);
  });

  it('is made anew for another motion, mesh or mapping', () => {
    const subject = { target: character.target, carrying: character.carrying, soles: null };
    const watch = new PoseWatch(walk, subject, geometry);
    expect(watch.isFor(walk, { ...subject, target: withFoot(5) }, geometry)).toBe(true);
    expect(watch.isFor({ ...walk }, subject, geometry)).toBe(false);
    expect(watch.isFor(walk, subject, null)).toBe(false);
    const roleBones = new Map([...character.target.roleBones].filter(([role]) => role !== 'leftFoot'));
    expect(watch.isFor(walk, { ...subject, target: { ...subject.target, roleBones } }, geometry)).toBe(false);
  });
});
